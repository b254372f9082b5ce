from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("catalog", "0015_edges")]
    operations = [migrations.AddField("release", "declaration_history", models.BinaryField(default=b""))]
