from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("catalog", "0009_sources_apart"), ("sources", "0001_initial")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[migrations.DeleteModel("Source"), migrations.DeleteModel("RunningService")]
        )
    ]
