"""Which projects a request may see. Accounts come later; every query already goes through here."""

from django.db.models import QuerySet

from calado.errors import RequestError
from server.projects.errors import Missing
from server.projects.models import Project, Shot


def projects() -> QuerySet[Project]:
    """Return the projects that may be seen: all but those being removed, while only this machine can ask."""
    return Project.objects.filter(removed=False)


def project_called(id: str) -> Project:
    """Return a project.

    Raises
    ------
    Missing
        when it does not exist or may not be seen.
    """
    found = projects().filter(id=id).first()
    if found is None:
        raise Missing("project")
    return found


def shot_called(project: str, shot: str) -> Shot:
    """Return a shot of a project.

    Raises
    ------
    Missing
        when either does not exist or may not be seen.
    """
    found = Shot.objects.filter(project__in=projects(), project_id=project, id=shot).select_related("project").first()
    if found is None:
        raise Missing("shot")
    return found


def clip_called(project: str, shot: str) -> Shot:
    """Return a shot of a project that is a clip.

    Raises
    ------
    Missing
        when either does not exist or may not be seen.
    RequestError
        when it is a still.
    """
    return clip(shot_called(project, shot))


def clip(shot: Shot) -> Shot:
    """Return a shot that is a clip.

    Raises
    ------
    RequestError
        when it is a still.
    """
    if not shot.is_clip:
        raise RequestError("This shot is a still.", code="render.still")
    return shot
