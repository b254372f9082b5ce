import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def scope_tokens(apps, _schema):
    """A token for no single project could do everything until now."""
    apps.get_model("accounts", "Token").objects.filter(project="").update(scope="manage")


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0003_note_first_run"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name="token",
            name="scope",
            field=models.CharField(db_collation="ascii_bin", default="publish", max_length=10),
        ),
        migrations.CreateModel(
            name="AuditEntry",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("actor", models.CharField(blank=True, max_length=150)),
                ("token", models.CharField(blank=True, max_length=100)),
                ("address", models.CharField(blank=True, max_length=60)),
                ("action", models.CharField(db_collation="ascii_bin", max_length=60)),
                ("project", models.CharField(blank=True, db_collation="utf8mb4_nopad_bin", max_length=100)),
                ("subject", models.CharField(blank=True, max_length=300)),
                ("before", models.JSONField(null=True)),
                ("after", models.JSONField(null=True)),
            ],
            options={
                "ordering": ["-id"],
                "indexes": [models.Index(fields=["project", "id"], name="audit_by_project")],
            },
        ),
        migrations.CreateModel(
            name="Identity",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("subject", models.CharField(db_collation="utf8mb4_nopad_bin", max_length=255, unique=True)),
                ("seen_at", models.DateTimeField()),
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="identity",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="SignIn",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("session_key", models.CharField(db_collation="ascii_bin", max_length=40, unique=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("seen_at", models.DateTimeField(auto_now_add=True)),
                ("address", models.CharField(blank=True, max_length=60)),
                ("agent", models.CharField(blank=True, max_length=200)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="sign_ins",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["-seen_at"],
            },
        ),
        migrations.CreateModel(
            name="Team",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(db_collation="utf8mb4_nopad_bin", max_length=150, unique=True)),
                ("is_from_provider", models.BooleanField(default=False)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("users", models.ManyToManyField(related_name="teams", to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["name"],
            },
        ),
        migrations.RunPython(scope_tokens, migrations.RunPython.noop),
    ]
