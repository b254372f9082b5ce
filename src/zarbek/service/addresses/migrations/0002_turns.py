"""Which release has which addresses, and whose turn it is."""

from urllib.parse import urlsplit

import django.db.models.deletion
from django.db import migrations, models
from django.utils import timezone

from zarbek.service.common.fields import identifier

_ID = models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")


def name_hosts(apps, _schema):
    """Of the addresses that are known; the releases that have them are listed by the chore."""
    hosts, checks = apps.get_model("addresses", "AddressHost").objects, apps.get_model("addresses", "UrlCheck").objects
    for pk, url in checks.values_list("pk", "url").iterator():
        try:
            name = urlsplit(url).netloc.lower()
        except ValueError:
            name = ""
        if not name.isascii() or len(name) > 260:
            name = ""
        checks.filter(pk=pk).update(host=hosts.get_or_create(name=name)[0])


class Migration(migrations.Migration):
    dependencies = [("addresses", "0001_initial"), ("catalog", "0012_portal_changes")]
    operations = [
        migrations.CreateModel(
            "AddressHost",
            [
                ("id", _ID),
                ("name", models.CharField(db_collation="ascii_bin", max_length=260, unique=True)),
                ("claimed_until", models.DateTimeField(null=True)),
                ("asked_at", models.DateTimeField(null=True)),
            ],
        ),
        migrations.AddField(
            "UrlCheck",
            "host",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="addresses",
                to="addresses.addresshost",
            ),
        ),
        migrations.AddField("UrlCheck", "due_at", models.DateTimeField(default=timezone.now)),
        migrations.AddIndex("UrlCheck", models.Index(fields=["host", "due_at"], name="address_by_turn")),
        migrations.CreateModel(
            "AddressList",
            [
                ("id", _ID),
                ("listed_at", models.DateTimeField(auto_now_add=True)),
                (
                    "release",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="address_list",
                        to="catalog.release",
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            "AddressUse",
            [
                ("id", _ID),
                ("kind", models.CharField(db_collation="ascii_bin", max_length=6)),
                ("path", identifier(700)),
                (
                    "address",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="uses", to="addresses.urlcheck"
                    ),
                ),
                (
                    "list",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="uses", to="addresses.addresslist"
                    ),
                ),
            ],
        ),
        migrations.RemoveField("ProjectAddresses", "known"),
        migrations.RemoveField("ProjectAddresses", "unreachable"),
        migrations.RemoveField("ProjectAddresses", "checked_at"),
        migrations.RunPython(name_hosts, migrations.RunPython.noop),
    ]
