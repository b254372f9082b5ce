import django.db.models.deletion
from django.db import migrations, models

from zarbek.service.common.fields import identifier


class Migration(migrations.Migration):
    dependencies = [("catalog", "0003_running_services")]
    operations = [
        migrations.CreateModel(
            "NameClaim",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", identifier(400)),
                ("held", identifier(400, null=True, unique=True)),
                ("is_shared", models.BooleanField(default=False)),
                ("decided_by", models.CharField(blank=True, max_length=150)),
                ("since", models.DateTimeField(auto_now_add=True)),
                (
                    "project",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="claims", to="catalog.project"
                    ),
                ),
            ],
            options={
                "ordering": ["name", "id"],
                "indexes": [models.Index(fields=["name"], name="claim_by_name")],
                "constraints": [models.UniqueConstraint(fields=("project", "name"), name="claim_once")],
            },
        ),
    ]
