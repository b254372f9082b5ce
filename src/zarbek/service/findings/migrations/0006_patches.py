from django.db import migrations, models


def without_run(apps, _schema):
    """What no run brought about was kept under 0, the latest alone."""
    apps.get_model("findings", "HealthPoint").objects.filter(run=0).update(run=None)


class Migration(migrations.Migration):
    dependencies = [("catalog", "0015_edges"), ("findings", "0005_growth")]
    operations = [
        migrations.AlterField("HealthPoint", "run", models.BigIntegerField(null=True)),
        migrations.RunPython(without_run, migrations.RunPython.noop),
        migrations.CreateModel(
            "PatchRecord",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("digest", models.CharField(db_collation="ascii_bin", max_length=64)),
                ("asked_at", models.DateTimeField(db_index=True)),
                ("is_likely", models.BooleanField()),
                ("is_accepted", models.BooleanField()),
                ("findings", models.JSONField(default=list)),
                ("document", models.JSONField(null=True)),
                ("problem", models.TextField(blank=True)),
                (
                    "project",
                    models.ForeignKey(on_delete=models.deletion.CASCADE, related_name="patches", to="catalog.project"),
                ),
            ],
        ),
        migrations.AddConstraint(
            "PatchRecord", models.UniqueConstraint(fields=["project", "digest"], name="patch_once")
        ),
    ]
