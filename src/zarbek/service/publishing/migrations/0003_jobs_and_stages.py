import django.utils.timezone
from django.db import migrations, models

from zarbek.service.common.fields import identifier


class Migration(migrations.Migration):
    dependencies = [("publishing", "0002_turns")]
    operations = [
        migrations.AddField("run", "job", models.UUIDField(null=True)),
        migrations.AddField(
            "run",
            "queued_at",
            models.DateTimeField(auto_now_add=True, default=django.utils.timezone.now),
            preserve_default=False,
        ),
        migrations.AddField(
            "run",
            "worker",
            models.CharField(blank=True, default="", max_length=40, db_collation="ascii_bin"),
            preserve_default=False,
        ),
        migrations.AddField("run", "stage_at", models.DateTimeField(null=True)),
        migrations.AddField("run", "progress_at", models.DateTimeField(null=True)),
        migrations.CreateModel(
            "Start",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("project", identifier(100, unique=True)),
            ],
        ),
    ]
