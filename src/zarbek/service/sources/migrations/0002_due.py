from django.db import migrations, models
from django.utils import timezone


def put_due(apps, _schema):
    """What is looked at now and then is due at once."""
    for name in ("Source", "RunningService"):
        apps.get_model("sources", name).objects.filter(poll_minutes__gt=0).update(due_at=timezone.now())


class Migration(migrations.Migration):
    dependencies = [("sources", "0001_initial")]
    operations = [
        migrations.AddField("source", "due_at", models.DateTimeField(null=True, db_index=True)),
        migrations.AddField("runningservice", "due_at", models.DateTimeField(null=True, db_index=True)),
        migrations.RunPython(put_due, migrations.RunPython.noop),
    ]
