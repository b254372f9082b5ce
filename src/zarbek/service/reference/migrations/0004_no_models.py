from django.db import migrations

_NAMES = ("Asset", "Block", "PageContent", "SymbolContent")


class Migration(migrations.Migration):
    dependencies = [("reference", "0003_content_apart"), ("links", "0005_content_apart")]

    operations = [
        migrations.SeparateDatabaseAndState(state_operations=[migrations.DeleteModel(name) for name in _NAMES])
    ]
