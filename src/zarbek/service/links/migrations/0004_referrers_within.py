from django.db import migrations
from django.db.models import F


def forget_own(apps, schema_editor):
    """Who refers to what within its own project stands in documents that linking makes."""
    referrers = apps.get_model("links", "Referrer").objects
    own = referrers.filter(project=F("source__slug")).order_by("pk").values_list("pk", flat=True)
    while batch := list(own[:5000]):
        referrers.filter(pk__in=batch).delete()


class Migration(migrations.Migration):
    atomic = False
    dependencies = [("links", "0003_families")]

    operations = [migrations.RunPython(forget_own, migrations.RunPython.noop)]
