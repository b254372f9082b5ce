from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("findings", "0006_patches")]
    operations = [migrations.AddField("FindingRecord", "places", models.PositiveIntegerField(default=1))]
