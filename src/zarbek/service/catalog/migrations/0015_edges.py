from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("catalog", "0014_search_changes")]
    operations = [migrations.AddField("release", "edges", models.JSONField(default=dict))]
