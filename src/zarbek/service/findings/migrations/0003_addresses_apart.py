"""What addresses answered is kept by an application of its own."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("findings", "0002_life")]
    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.AlterModelTable("UrlCheck", "addresses_urlcheck")],
            state_operations=[migrations.DeleteModel("UrlCheck")],
        )
    ]
