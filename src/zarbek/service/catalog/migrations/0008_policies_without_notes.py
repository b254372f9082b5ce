"""Notes hold nothing back: a policy that counted them counts what is worse."""

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def count_warnings(apps: Apps, schema_editor: BaseDatabaseSchemaEditor) -> None:
    Project = apps.get_model("catalog", "Project")
    for project in Project.objects.filter(policy__severity="note"):
        project.policy = {**project.policy, "severity": "warning"}
        project.save(update_fields=["policy"])


class Migration(migrations.Migration):
    dependencies = [("catalog", "0007_room_for_previews")]
    operations = [migrations.RunPython(count_warnings, migrations.RunPython.noop)]
