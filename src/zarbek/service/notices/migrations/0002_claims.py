from django.db import migrations, models


def leave_one(apps, _schema):
    """Of what was put on its way twice, the first."""
    deliveries, seen = apps.get_model("notices", "Delivery").objects, set()
    for pk, webhook, event in deliveries.order_by("pk").values_list("pk", "webhook_id", "event"):
        if (webhook, event) in seen:
            deliveries.filter(pk=pk).delete()
        seen.add((webhook, event))


class Migration(migrations.Migration):
    dependencies = [("notices", "0001_initial")]
    operations = [
        migrations.AddField("webhook", "claimed_until", models.DateTimeField(null=True)),
        migrations.RunPython(leave_one, migrations.RunPython.noop),
        migrations.AddConstraint(
            "delivery", models.UniqueConstraint(fields=["webhook", "event"], name="delivery_once")
        ),
    ]
