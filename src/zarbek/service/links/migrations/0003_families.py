from django.db import migrations
from django.db.models import Value
from django.db.models.functions import Concat, Substr


def tell_families(apps, schema_editor):
    """Names that nobody owns are waited for by family of languages; those that stand may be of any."""
    rows = apps.get_model("links", "Dependence").objects.filter(project__startswith="?")
    rows.exclude(project__startswith="?pkg:").update(project=Concat(Value("?:"), Substr("project", 2, 198)))


class Migration(migrations.Migration):
    dependencies = [("links", "0002_dependences")]

    operations = [migrations.RunPython(tell_families, migrations.RunPython.noop)]
