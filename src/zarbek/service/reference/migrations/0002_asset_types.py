from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("reference", "0001_initial")]
    operations = [migrations.RemoveField(model_name="asset", name="media_type")]
