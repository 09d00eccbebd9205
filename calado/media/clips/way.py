"""What is to be followed, from where, over which frames."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, TypeAlias

from calado.follow.fits import Matrix
from calado.follow.motion import Followed, Motion, Step

#: what a person asks for
Asked: TypeAlias = Followed | Literal["any"]
Told = Callable[[int, Step, float], bool]


@dataclass(frozen=True)
class Way:
    """What is to be followed: from the reference frame ``at``, over ``frames`` (first and last), by a kind of motion.

    ``known`` is a motion of before that is gone on with from frame ``begin``, where it lies by ``matrix`` (in picture
    heights): it is followed anew on the side of ``begin`` that is away from the reference. That frame is a reference
    too then, and from there back to ``key``, the one before it, both are heard. Of *any* kind it is a face if the
    region marks one, else in perspective.
    """

    at: int
    frames: tuple[int, int]
    kind: Asked = "any"
    known: Motion | None = None
    begin: int | None = None
    matrix: Matrix | None = None
    key: int | None = None

    @property
    def between(self) -> range:
        """The frames from ``begin`` back to the reference before it, both left out."""
        if self.key is None:
            return range(0)
        step = 1 if self.key > self.start else -1
        return range(self.start + step, self.key, step)

    @property
    def start(self) -> int:
        """The frame from which it is followed."""
        return self.at if self.begin is None else self.begin

    @property
    def ways(self) -> list[range]:
        """The frames forwards and backwards; gone on with, only those away from the reference."""
        first, last = self.frames
        onwards, back = range(self.start + 1, last + 1), range(self.start - 1, first - 1, -1)
        if self.known is None:
            return [each for each in (onwards, back) if each]
        return [onwards if self.start >= self.at else back]
