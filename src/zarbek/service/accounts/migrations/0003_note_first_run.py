from django.db import migrations


def note_the_first_run(apps, _editor):
    """A database that has accounts has had its first run."""
    if apps.get_model("auth", "User").objects.exists():
        apps.get_model("accounts", "FirstRun").objects.create(pk=1)


class Migration(migrations.Migration):
    dependencies = [("accounts", "0002_first_run_and_tallies"), ("auth", "0012_alter_user_first_name_max_length")]
    operations = [migrations.RunPython(note_the_first_run, migrations.RunPython.noop)]
