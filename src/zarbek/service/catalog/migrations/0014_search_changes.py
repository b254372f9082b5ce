from django.db import migrations, models
from django.db.models import Q


def find_what_counts(apps, _schema):
    """What search finds from now on; superseded releases it does not."""
    releases = apps.get_model("catalog", "Release").objects
    wanted = Q(is_judged=True) | Q(is_preview=True) | Q(aliases__name="latest")
    pks = list(releases.filter(wanted, is_live=True).values_list("pk", flat=True).distinct())
    releases.filter(pk__in=pks).update(is_findable=True)


class Migration(migrations.Migration):
    dependencies = [("catalog", "0013_visibility")]
    operations = [
        migrations.AddField("release", "is_findable", models.BooleanField(default=False, db_index=True)),
        migrations.CreateModel(
            "SearchChange",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("release", models.BigIntegerField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
            ],
            options={"ordering": ["id"]},
        ),
        migrations.RunPython(find_what_counts, migrations.RunPython.noop),
    ]
