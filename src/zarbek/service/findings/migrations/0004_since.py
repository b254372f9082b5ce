from django.db import migrations, models
from django.db.models import F


def since_they_were_first_seen(apps, _schema):
    """When else they began to stand is not known."""
    apps.get_model("findings", "FindingRecord").objects.update(since_at=F("first_seen_at"))


class Migration(migrations.Migration):
    dependencies = [("findings", "0003_addresses_apart")]
    operations = [
        migrations.AddField("FindingRecord", "since_at", models.DateTimeField(null=True, db_index=True)),
        migrations.RunPython(since_they_were_first_seen, migrations.RunPython.noop),
    ]
