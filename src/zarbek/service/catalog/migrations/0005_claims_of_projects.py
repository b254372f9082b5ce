from django.db import migrations


def claim_known_names(apps, _editor):
    """What projects had until now they claim, the oldest project first: it is whose a name is."""
    claims = apps.get_model("catalog", "NameClaim").objects
    for project in apps.get_model("catalog", "Project").objects.order_by("created_at", "pk"):
        for name in sorted({*project.namespaces, *([project.purl] if project.purl else [])}):
            is_free = not claims.filter(held=name).exists()
            claims.create(project=project, name=name, held=name if is_free else None)


class Migration(migrations.Migration):
    dependencies = [("catalog", "0004_name_claims")]
    operations = [migrations.RunPython(claim_known_names, migrations.RunPython.noop)]
