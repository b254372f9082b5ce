from django.db import migrations, models


def clear_keys(apps, _schema):
    """Runs without a key have none; so have those that failed, whose requests may be sent again."""
    runs = apps.get_model("publishing", "Run").objects
    runs.filter(models.Q(idempotency_key="") | models.Q(state="failed")).update(idempotency_key=None)
    seen = set()
    for pk, project, key in (
        runs.exclude(idempotency_key=None).order_by("pk").values_list("pk", "project", "idempotency_key")
    ):
        if (project, key) in seen:
            runs.filter(pk=pk).update(idempotency_key=None)
        seen.add((project, key))


class Migration(migrations.Migration):
    dependencies = [("publishing", "0004_plain_names")]
    operations = [
        migrations.AlterField("run", "idempotency_key", models.CharField(max_length=100, null=True)),
        migrations.RunPython(clear_keys, migrations.RunPython.noop),
        migrations.AddConstraint(
            "run", models.UniqueConstraint(fields=["project", "idempotency_key"], name="run_once_a_key")
        ),
        migrations.AddIndex("run", models.Index(fields=["project", "state"], name="run_by_project")),
        migrations.AddField("scheduledchore", "started_at", models.DateTimeField(null=True)),
        migrations.AddField(
            "scheduledchore",
            "worker",
            models.CharField(blank=True, default="", max_length=40, db_collation="ascii_bin"),
            preserve_default=False,
        ),
    ]
