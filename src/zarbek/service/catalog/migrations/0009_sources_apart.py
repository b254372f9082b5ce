from django.db import migrations


class Migration(migrations.Migration):
    """Repositories and running services have an application of their own: first their tables get their names."""

    dependencies = [("catalog", "0008_policies_without_notes")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.AlterModelTable("Source", "sources_source"),
                migrations.AlterModelTable("RunningService", "sources_runningservice"),
            ]
        )
    ]
