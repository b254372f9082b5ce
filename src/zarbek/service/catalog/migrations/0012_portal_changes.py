from django.db import migrations, models

from zarbek.service.common.fields import identifier


def start(apps, _schema):
    """There is always one row."""
    apps.get_model("catalog", "PortalState").objects.get_or_create(pk=1)


class Migration(migrations.Migration):
    dependencies = [("catalog", "0011_text_history")]
    operations = [
        migrations.CreateModel(
            "PortalState",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.BigIntegerField(default=0)),
            ],
        ),
        migrations.CreateModel(
            "PortalChange",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.BigIntegerField(unique=True)),
                ("project", identifier(100, blank=True)),
                ("release", models.BigIntegerField(null=True)),
                ("namespaces", models.JSONField(default=list)),
                ("cause", identifier(210)),
                ("run", models.BigIntegerField(default=0)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("settled_at", models.DateTimeField(null=True, db_index=True)),
            ],
            options={"ordering": ["number"]},
        ),
        migrations.AddField("release", "linked_at", models.BigIntegerField(default=0)),
        migrations.AddField("release", "link_revision", models.BigIntegerField(default=0)),
        migrations.RunPython(start, migrations.RunPython.noop),
    ]
