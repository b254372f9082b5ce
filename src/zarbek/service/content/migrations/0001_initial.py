import django.db.models.deletion
from django.db import migrations, models


def _project():
    return models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="catalog.project")


def _content(name, constraint, *fields, digits=32):
    return migrations.CreateModel(
        name=name,
        fields=[
            ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
            ("digest", models.CharField(db_collation="ascii_bin", max_length=digits)),
            *fields,
            ("project", _project()),
        ],
        options={"constraints": [models.UniqueConstraint(fields=("project", "digest"), name=constraint)]},
    )


def _path(length):
    return ("path", models.CharField(db_collation="utf8mb4_nopad_bin", max_length=length))


_DOCUMENT = ("document", models.BinaryField())


class Migration(migrations.Migration):
    """The tables stand already: another application made them, and gave them these names."""

    initial = True
    dependencies = [("catalog", "0001_initial"), ("reference", "0003_content_apart")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                _content("Asset", "asset_once", ("file", models.FileField(upload_to="assets")), digits=64),
                _content("Block", "block_once", _DOCUMENT),
                _content("PageContent", "page_content_once", _path(500), _DOCUMENT),
                _content("SymbolContent", "symbol_content_once", _path(700), _DOCUMENT),
            ]
        )
    ]
