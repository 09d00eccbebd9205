"""Refusals of the server, beside the core's own."""

from calado.errors import CaladoError
from calado.sheet.models import Sheet


class Stale(CaladoError):
    """The change was made on a revision that is not the newest any more."""

    def __init__(self, seen: int, newest: int, theirs: Sheet | None = None, yours: Sheet | None = None) -> None:
        super().__init__(
            f"This sheet was changed elsewhere (you saw revision {seen}, the newest is {newest})."
            " Nothing was lost: look at the newest one and make the change again.",
            code="revision.stale",
        )
        self.newest = newest
        #: the newest sheet, and what the change would have made of the one that was seen
        self.theirs = theirs
        self.yours = yours


class DraftGone(CaladoError, LookupError):
    """A draft was named that is not held, or not any more."""

    def __init__(self) -> None:
        super().__init__("This draft is not known here any more. Send it again.", code="draft.gone")


class Missing(CaladoError, LookupError):
    """What was asked for does not exist, or not in a project one may see."""

    def __init__(self, what: str) -> None:
        super().__init__(f"There is no such {what}. It may have been removed.", code="missing")


class Duplicate(CaladoError):
    """The file is in the project already."""

    def __init__(self, name: str, shot: str) -> None:
        super().__init__(f"“{name}” is in this project already. Open the one that is there.", code="shot.duplicate")
        self.shot = shot


class NothingTo(CaladoError):
    """There is nothing to undo or to redo."""

    def __init__(self, what: str) -> None:
        super().__init__(f"There is nothing to {what}.", code=f"nothing.{what}")


class MovedOn(CaladoError):
    """The project's passes are no longer as the change left them."""

    def __init__(self) -> None:
        super().__init__(
            "The project's passes were changed since, so this can't be taken back for all shots at once."
            " Change them there.",
            code="project.moved",
        )


class Showing(CaladoError):
    """A cover lets something through; whoever still wants the file says so."""

    def __init__(self, said: tuple[str, ...]) -> None:
        super().__init__(
            f"A cover does not conceal all it should. {said[0]} Mend it, or export it all the same.",
            code="export.showing",
        )
        self.said = list(said)
