from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_initial")]
    operations = [
        migrations.CreateModel(
            "FirstRun",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("at", models.DateTimeField(auto_now_add=True)),
            ],
        ),
        migrations.CreateModel(
            "Tally",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64, unique=True, db_collation="ascii_bin")),
                ("count", models.PositiveIntegerField(default=0)),
                ("until", models.DateTimeField(db_index=True)),
            ],
        ),
    ]
