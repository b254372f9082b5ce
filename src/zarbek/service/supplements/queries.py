"""Reading what people wrote."""

from __future__ import annotations

from django.db.models import Max

from zarbek.core.findings.patches import added_file
from zarbek.service.catalog.models import Project
from zarbek.service.common.problems import NotFound
from zarbek.service.content.editions import projects_read_in_part
from zarbek.service.supplements.models import Revision

#: Where what was written here goes in a project's repository.
FOLDER = "supplements/written"


def may_read_as_written(project: Project) -> bool:
    """Whether the asker may read what people wrote as they wrote it: not who reads an edition of the project only, for
    elements that it does not have are among those written of."""
    return project.pk not in projects_read_in_part().ids


def list_written(project: Project) -> list[Revision]:
    """The supplements of a project as they are now, by name."""
    newest = Revision.objects.filter(project=project).values("name").annotate(last=Max("pk")).values_list("last")
    return list(Revision.objects.filter(pk__in=newest).exclude(text="").order_by("name"))


def list_revisions(project: Project, name: str) -> list[Revision]:
    """Those of one supplement, newest first. Raises NotFound for one that never was."""
    found = list(Revision.objects.filter(project=project, name=name).order_by("-pk"))
    if not found:
        raise NotFound(f"{project.slug} has no supplement {name} that was written here.")
    return found


def patch_of(project: Project) -> str:
    """A patch (unified diff, as ``git apply`` takes it) that adds what was written to the project's repository."""
    return "".join(added_file(f"{FOLDER}/{row.name}", row.text) for row in list_written(project))
