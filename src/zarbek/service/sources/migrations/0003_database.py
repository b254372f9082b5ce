import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("catalog", "0010_no_sources"), ("sources", "0002_due")]
    operations = [
        migrations.CreateModel(
            name="Database",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("address", models.CharField(max_length=500)),
                ("password_from", models.CharField(blank=True, max_length=100)),
                ("schemas", models.JSONField(default=dict)),
                ("poll_minutes", models.PositiveIntegerField(default=0)),
                ("digest", models.CharField(blank=True, db_collation="ascii_bin", max_length=64)),
                ("material", models.CharField(blank=True, max_length=200)),
                ("fetched_at", models.DateTimeField(null=True)),
                ("asked_at", models.DateTimeField(null=True)),
                ("due_at", models.DateTimeField(db_index=True, null=True)),
                ("changed_at", models.DateTimeField(null=True)),
                ("problem", models.TextField(blank=True)),
                (
                    "project",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="database", to="catalog.project"
                    ),
                ),
            ],
        )
    ]
