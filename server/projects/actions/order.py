"""Putting the shots of a project into another order."""

from collections.abc import Sequence

from django.db import transaction

from server.projects.models import Project, Shot


def put_in_order(project: Project, wanted: Sequence[str]) -> None:
    """Put shots first, in this order; the others follow as they stood. An id that is not there is passed over."""
    rank = {id: place for place, id in enumerate(wanted)}
    with transaction.atomic():
        shots = sorted(project.shots.all(), key=lambda shot: rank.get(shot.id, len(rank)))
        for place, shot in enumerate(shots):
            shot.position = place
        Shot.objects.bulk_update(shots, ["position"])
