import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    """The tables stand already: another application made them, and gave them these names."""

    initial = True

    dependencies = [
        ("catalog", "0009_sources_apart"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Source",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                            ),
                        ),
                        ("address", models.CharField(max_length=500)),
                        ("folder", models.CharField(blank=True, max_length=300)),
                        ("created_at", models.DateTimeField(auto_now_add=True)),
                        ("poll_minutes", models.PositiveIntegerField(default=0)),
                        ("tags", models.CharField(default="v*", max_length=100)),
                        ("branch", models.CharField(blank=True, max_length=200)),
                        ("hook_secret", models.CharField(blank=True, max_length=64)),
                        ("polled_at", models.DateTimeField(null=True)),
                        ("problem", models.TextField(blank=True)),
                        ("ahead", models.JSONField(default=dict)),
                        (
                            "project",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="sources",
                                to="catalog.project",
                            ),
                        ),
                    ],
                ),
                migrations.CreateModel(
                    name="RunningService",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                            ),
                        ),
                        ("name", models.CharField(db_collation="utf8mb4_nopad_bin", max_length=100)),
                        ("address", models.CharField(max_length=500)),
                        ("server", models.CharField(blank=True, max_length=500)),
                        ("strip", models.CharField(blank=True, max_length=200)),
                        ("headers", models.JSONField(default=dict)),
                        ("poll_minutes", models.PositiveIntegerField(default=0)),
                        ("entity_tag", models.CharField(blank=True, max_length=200)),
                        ("digest", models.CharField(blank=True, db_collation="ascii_bin", max_length=64)),
                        ("material", models.CharField(blank=True, max_length=200)),
                        ("fetched_at", models.DateTimeField(null=True)),
                        ("asked_at", models.DateTimeField(null=True)),
                        ("changed_at", models.DateTimeField(null=True)),
                        ("problem", models.TextField(blank=True)),
                        (
                            "project",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="services",
                                to="catalog.project",
                            ),
                        ),
                    ],
                    options={
                        "ordering": ["name"],
                        "constraints": [models.UniqueConstraint(fields=("project", "name"), name="service_once")],
                    },
                ),
            ]
        )
    ]
