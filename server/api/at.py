"""Where a request works: a draft of a shot, a region or a pass of it; and answers that need not be made anew."""

import hashlib
import json
from collections.abc import Callable
from functools import cached_property, wraps

from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse, HttpResponseNotModified
from ninja.decorators import decorate_view

from calado.catalogue import CATALOGUE
from calado.errors import RequestError
from calado.region.resolved import ResolvedRegion
from calado.render.engine import Order, new_secret
from calado.render.resolve import resolve
from calado.render.source import Source
from calado.sheet.check import read_sheet
from calado.sheet.models import Pass, Sheet
from calado.sheet.within import pass_called, region_called
from server.api.schemas.common import Problem
from server.api.turns import Turns
from server.bench.drafts import draft_called
from server.bench.sources import ENGINE, as_shown, source_for
from server.projects.access import shot_called
from server.projects.errors import Missing
from server.projects.models import Shot

SHOT = "/projects/{project}/shots/{shot}"
DRAFT = SHOT + "/drafts/{draft}"
REFUSED = {404: Problem, 422: Problem}
#: pictures made before a restart are made again: noise that conceals is another then
_STARTED = new_secret()

View = Callable[..., HttpResponse]
_TURNS = Turns()


class At:
    """A draft of a shot; of a clip at a frame, which its name may tell: ``digest@54``."""

    def __init__(self, project: str, shot: str, draft: str) -> None:
        self.shot: Shot = shot_called(project, shot)
        digest, _, frame = draft.partition("@")
        #: the draft as it is kept: with everything that moves
        self.draft: Sheet = draft_called(digest)
        self.frame = frame_of(self.shot, frame)

    def at(self, frame: int) -> "At":
        """Return the same at another frame."""
        other = At.__new__(At)
        other.shot, other.draft, other.frame = self.shot, self.draft, frame_of(self.shot, str(frame))
        return other

    @cached_property
    def sheet(self) -> Sheet:
        """The draft as it stands at the frame."""
        return as_shown(self.shot, self.draft, self.frame)

    @cached_property
    def common(self) -> Sheet:
        """The passes that run on every shot of the project."""
        common = read_sheet(self.shot.project.sheet, CATALOGUE)
        return as_shown(self.shot, common, self.frame)

    @cached_property
    def source(self) -> Source:
        """The shot's pixels."""
        return source_for(self.shot, self.frame)

    @property
    def size(self) -> tuple[int, int]:
        """The shot's width and height in pixels."""
        return self.shot.width, self.shot.height

    @property
    def aspect(self) -> float:
        """The shot's width over its height."""
        return self.shot.width / self.shot.height

    def order(self, exaggerate: str | None = None) -> Order:
        """Return all passes that are to run."""
        return Order(self.sheet, self.common, exaggerate)

    def where(self, region: str) -> ResolvedRegion:
        """Return a region of the draft.

        Raises
        ------
        RequestError
            when it is not on the shelf.
        """
        found = resolve(self.sheet, region_called(self.sheet, region).id)
        assert found is not None  # it was just found
        return found

    def pass_called(self, id: str) -> Pass:
        """Return a pass of the draft.

        Raises
        ------
        RequestError
            when it is not on the sheet.
        """
        return pass_called(self.sheet, id)


def frame_of(shot: Shot, text: str) -> int:
    """Return the frame that a draft's name tells; none: the poster.

    Raises
    ------
    RequestError
        when the shot has no such frame.
    """
    if not text:
        return shot.poster
    frame = int(text) if text.isdecimal() and len(text) < 8 else -1
    if not 0 <= frame < max(shot.frames, 1):
        raise RequestError(f"This shot has frames 0 to {max(shot.frames, 1) - 1}.", code="render.frame")
    return frame


def _kept(view: View) -> View:
    """Let a browser keep an answer, and answer that it stands as long as nothing it depends on has changed.

    Of several that ask for the same at once, one makes it for all.
    """

    @wraps(view)
    def answered(request: HttpRequest, project: str, shot: str, draft: str, **more: object) -> HttpResponse:
        try:
            tag = _tag(request, project, shot, draft)
        except (Missing, DatabaseError):  # the view says so
            return view(request, project=project, shot=shot, draft=draft, **more)
        if tag == request.headers.get("If-None-Match"):
            return HttpResponseNotModified(headers={"ETag": tag, "Cache-Control": "private, no-cache"})
        made = _TURNS.once(tag, lambda: view(request, project=project, shot=shot, draft=draft, **more))
        if made.status_code == 200:
            made["ETag"], made["Cache-Control"] = tag, "private, no-cache"
        return made

    return answered


#: for what is read of a draft and only depends on it
kept = decorate_view(_kept)


def name_of(at: At, draft: str) -> str:
    """Return what a picture of a draft depends on, besides its own request, as a short name."""
    common = json.dumps(at.shot.project.sheet, sort_keys=True)
    parts = (str(_STARTED), at.shot.key, draft, common, str(ENGINE.solved.generation))
    return hashlib.sha256(chr(0).join(parts).encode()).hexdigest()[:32]


def _tag(request: HttpRequest, project: str, shot: str, draft: str) -> str:
    """Return what an answer depends on, as a tag."""
    found = shot_called(project, shot)
    parts = (
        str(_STARTED),
        found.key,
        draft,
        json.dumps(found.project.sheet, sort_keys=True),
        str(ENGINE.solved.generation),
        request.get_full_path(),
    )
    return f'"{hashlib.sha256(chr(0).join(parts).encode()).hexdigest()[:32]}"'
