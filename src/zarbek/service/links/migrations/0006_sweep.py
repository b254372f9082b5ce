import django.db.models.deletion
from django.db import migrations, models

from zarbek.service.common.fields import digest


class Migration(migrations.Migration):
    dependencies = [("links", "0005_content_apart"), ("catalog", "0013_visibility")]
    operations = [
        migrations.CreateModel(
            "Sweep",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("state", digest(blank=True)),
                ("swept_at", models.DateTimeField(null=True)),
                (
                    "project",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="catalog.project"
                    ),
                ),
            ],
        ),
    ]
