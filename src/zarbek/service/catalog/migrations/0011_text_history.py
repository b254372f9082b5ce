from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("catalog", "0010_no_sources")]

    operations = [migrations.RenameField("Release", "written", "text_history")]
