from django.db import migrations

_NAMES = ("Asset", "Block", "PageContent", "SymbolContent")


class Migration(migrations.Migration):
    """What releases hold has an application of its own: first its tables get their names."""

    dependencies = [("reference", "0002_asset_types"), ("links", "0004_referrers_within")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.AlterModelTable(name, f"content_{name.lower()}") for name in _NAMES]
        )
    ]
