import django.db.models.deletion
from django.db import migrations, models


def _content(to):
    return models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to=to)


class Migration(migrations.Migration):
    dependencies = [("links", "0004_referrers_within"), ("content", "0001_initial")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField("Referrer", "symbol", _content("content.symbolcontent")),
                migrations.AlterField("Referrer", "page", _content("content.pagecontent")),
            ]
        )
    ]
