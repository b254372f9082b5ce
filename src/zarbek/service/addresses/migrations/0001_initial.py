"""What addresses answered, which are left alone, and which could not be reached."""

import django.db.models.deletion
from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor
from django.db.models import Q

_ID = models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")


def forget_failures(apps: Apps, schema_editor: BaseDatabaseSchemaEditor) -> None:
    """Faults of addresses that gave no answer may have been the network's: they are judged anew."""
    rows = apps.get_model("addresses", "UrlCheck").objects
    rows.filter(Q(status=0) | Q(status__gte=500)).update(fault="", checked_at=None)
    rows.update(failed_days=0)


class Migration(migrations.Migration):
    dependencies = [("catalog", "0008_policies_without_notes"), ("findings", "0003_addresses_apart")]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="UrlCheck",
                    fields=[
                        ("id", _ID),
                        ("digest", models.CharField(db_collation="ascii_bin", max_length=32, unique=True)),
                        ("url", models.TextField()),
                        ("status", models.PositiveIntegerField(default=0)),
                        ("fault", models.CharField(blank=True, max_length=300)),
                        ("moved_to", models.TextField(blank=True)),
                        ("etag", models.CharField(blank=True, max_length=300)),
                        ("last_modified", models.CharField(blank=True, max_length=100)),
                        ("failures", models.PositiveIntegerField(default=0)),
                        ("checked_at", models.DateTimeField(null=True)),
                    ],
                )
            ]
        ),
        migrations.RenameField("UrlCheck", "failures", "failed_days"),
        migrations.AddField("UrlCheck", "failed_on", models.DateField(null=True)),
        migrations.AddField("UrlCheck", "unreachable", models.CharField(blank=True, max_length=300, default=""), False),
        migrations.AddField("UrlCheck", "unreachable_since", models.DateTimeField(null=True)),
        migrations.RunPython(forget_failures, migrations.RunPython.noop),
        migrations.CreateModel(
            name="QuietHost",
            fields=[
                ("id", _ID),
                ("host", models.CharField(db_collation="ascii_bin", max_length=253, unique=True)),
            ],
        ),
        migrations.CreateModel(
            name="ProjectAddresses",
            fields=[
                ("id", _ID),
                ("asks", models.BooleanField(default=True)),
                ("quiet", models.JSONField(default=list)),
                ("known", models.PositiveIntegerField(default=0)),
                ("unreachable", models.JSONField(default=list)),
                ("checked_at", models.DateTimeField(null=True)),
                (
                    "project",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="addresses", to="catalog.project"
                    ),
                ),
            ],
        ),
    ]
