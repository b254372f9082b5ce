from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("publishing", "0005_runs_in_order")]
    operations = [
        migrations.AddField(
            "CacheEpoch",
            "scope",
            models.CharField(blank=True, db_collation="utf8mb4_nopad_bin", default="", max_length=100, unique=True),
        ),
    ]
