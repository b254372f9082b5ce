from django.db import migrations, models

COUNTS = ("total", "dangling", "stale", "open")


def targets(apps, _schema):
    """As each finding's document has it."""
    rows = apps.get_model("findings", "FindingRecord").objects
    changed = []
    for row in rows.only("pk", "document").iterator(500):
        row.target = row.document.get("target", "")[:700]
        changed.append(row)
        if len(changed) == 500:
            rows.bulk_update(changed, ["target"])
            changed.clear()
    rows.bulk_update(changed, ["target"])


def days(apps, _schema):
    """Of the points there are."""
    day_of = apps.get_model("findings", "HealthDay")
    found = {}
    for point in apps.get_model("findings", "HealthPoint").objects.order_by("at", "pk").iterator():
        day = found.setdefault((point.project_id, point.at.date()), day_of(project_id=point.project_id, new=0, fixed=0))
        day.day = point.at.date()
        for name in COUNTS:
            setattr(day, name, getattr(point, name))
        day.new, day.fixed = day.new + point.new, day.fixed + point.fixed
    day_of.objects.bulk_create(found.values(), batch_size=500)


class Migration(migrations.Migration):
    dependencies = [("catalog", "0015_edges"), ("findings", "0004_since")]
    operations = [
        migrations.AddField(
            "FindingRecord",
            "target",
            models.CharField(blank=True, db_collation="utf8mb4_nopad_bin", db_index=True, default="", max_length=700),
        ),
        migrations.AddIndex("FindingRecord", models.Index(fields=["owner", "state"], name="finding_by_owner")),
        migrations.AddIndex("HealthPoint", models.Index(fields=["project", "at"], name="health_point_by_time")),
        migrations.CreateModel(
            "HealthDay",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("day", models.DateField(db_index=True)),
                *((name, models.PositiveIntegerField()) for name in (*COUNTS, "new", "fixed")),
                (
                    "project",
                    models.ForeignKey(
                        on_delete=models.deletion.CASCADE, related_name="health_days", to="catalog.project"
                    ),
                ),
            ],
        ),
        migrations.AddConstraint(
            "HealthDay", models.UniqueConstraint(fields=["project", "day"], name="health_day_once")
        ),
        migrations.RunPython(targets, migrations.RunPython.noop),
        migrations.RunPython(days, migrations.RunPython.noop),
    ]
