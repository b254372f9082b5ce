from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("publishing", "0003_jobs_and_stages")]

    operations = [
        migrations.RenameModel("Generation", "CacheEpoch"),
        migrations.RenameModel("Turn", "ScheduledChore"),
        migrations.RenameModel("Start", "ProjectStart"),
        migrations.RenameField("Run", "brought", "namespace_changes"),
    ]
