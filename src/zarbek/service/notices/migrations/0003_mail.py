import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

from zarbek.service.notices.models import new_key

_ID = models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")


def give_keys(apps, _schema):
    """Each its own."""
    digests = apps.get_model("notices", "Digest").objects
    for pk in list(digests.values_list("pk", flat=True)):
        digests.filter(pk=pk).update(key=new_key())


class Migration(migrations.Migration):
    dependencies = [
        ("notices", "0002_claims"),
        ("catalog", "0013_visibility"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.AddField("Digest", "is_paused", models.BooleanField(default=False)),
        migrations.AddField("Digest", "key", models.CharField(max_length=43, db_collation="ascii_bin", default="")),
        migrations.RunPython(give_keys, migrations.RunPython.noop),
        migrations.AlterField(
            "Digest",
            "key",
            models.CharField(max_length=43, unique=True, default=new_key, db_collation="ascii_bin"),
        ),
        migrations.CreateModel(
            "MailChoice",
            [
                ("id", _ID),
                ("told_until", models.DateTimeField()),
                ("is_paused", models.BooleanField(default=False)),
                ("key", models.CharField(max_length=43, unique=True, default=new_key, db_collation="ascii_bin")),
                ("problem", models.CharField(blank=True, max_length=300)),
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="mail_choice",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            "Subscription",
            [
                ("id", _ID),
                ("owner", models.CharField(blank=True, max_length=200)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "project",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to="catalog.project",
                    ),
                ),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="subscriptions",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={"ordering": ["id"]},
        ),
        migrations.AddConstraint(
            "subscription", models.UniqueConstraint(fields=["user", "project", "owner"], name="subscription_once")
        ),
    ]
