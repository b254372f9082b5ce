import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0004_people"),
        ("catalog", "0012_portal_changes"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name="project",
            name="visibility",
            field=models.CharField(db_collation="ascii_bin", db_index=True, default="public", max_length=10),
        ),
        migrations.CreateModel(
            name="Membership",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("role", models.CharField(db_collation="ascii_bin", max_length=10)),
                ("since", models.DateTimeField(auto_now_add=True)),
                (
                    "project",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="memberships",
                        to="catalog.project",
                    ),
                ),
                (
                    "team",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="accounts.team"
                    ),
                ),
                (
                    "user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(fields=("project", "user"), name="member_once"),
                    models.UniqueConstraint(fields=("project", "team"), name="member_team_once"),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(("team__isnull", False), ("user", None)),
                            models.Q(("team", None), ("user__isnull", False)),
                            _connector="OR",
                        ),
                        name="member_is_one",
                    ),
                ],
            },
        ),
    ]
