from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("catalog", "0019_release_has_editions")]

    operations = [migrations.AddField("release", "tested", models.BinaryField(default=b""))]
