from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = []
    operations = [
        migrations.CreateModel(
            "SearchNode",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(db_collation="ascii_bin", max_length=200, unique=True)),
                ("position", models.BigIntegerField(default=0)),
                ("seen_at", models.DateTimeField()),
            ],
            options={"ordering": ["name"]},
        ),
    ]
