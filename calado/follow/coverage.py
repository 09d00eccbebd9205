"""In which frames of a clip what must be covered is: covered, declared absent, or open.

A frame is *open* where a region that follows may be off and nobody has looked: somebody corrects it there, declares
that what it covers does not show, or that it lies right as it is. Of a region that stands by hand nothing is known of
what moves below it: its frames count as covered, since somebody set each. Where a pass does not reach (its span) the
cover is *off*.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby
from typing import Literal

from calado.follow.carried import doubtful
from calado.follow.motion import Motions
from calado.render.resolve import sides_covered
from calado.sheet.models import Pass, Region, Sheet
from calado.sheet.timed import declared_at

State = Literal["covered", "absent", "open", "off"]


@dataclass(frozen=True)
class Run:
    """Frames from ``first`` to ``last`` in which a cover stands alike; ``who`` and ``when`` of what was declared."""

    first: int
    last: int
    state: State
    declared: Literal["absent", "seen", ""] = ""
    who: str = ""
    when: str = ""


@dataclass(frozen=True)
class Coverage:
    """How a region is covered through a clip: all frames, as runs in order."""

    region: Region
    runs: tuple[Run, ...]

    def count(self, state: State) -> int:
        """Return how many frames are so."""
        return sum(run.last - run.first + 1 for run in self.runs if run.state == state)

    @property
    def says(self) -> str:
        """How many frames are covered, absent, open and off, in words."""
        # of what stands by hand nobody knows what moves below it
        lead = "covers" if self.region.track else "lies by hand in"
        said = [f"{lead} {self.count('covered')}"]
        said += [f"absent in {self.count('absent')}"] if self.count("absent") else []
        said += [f"{self.count('open')} open"] if self.count("open") else []
        said += [f"off in {self.count('off')}"] if self.count("off") else []
        return ", ".join(said)


def covering(sheet: Sheet, region: str) -> list[Pass]:
    """Return the passes that must cover a region and are on."""
    return [each for each in sheet.passes if each.region == region and sides_covered(each)]


def coverage(sheet: Sheet, region: str, frames: int, motions: Motions) -> Coverage | None:
    """Return how a region is covered in a clip of so many frames, or None if no pass must cover it."""
    found, passes = sheet.region(region), covering(sheet, region)
    if found is None or not passes:
        return None
    unsure = set(doubtful(found.track, range(frames), motions(found.track.motion))) if found.track else set()
    acts = [each.span for each in passes]

    def stands(frame: int) -> tuple[State, str, str, str]:
        declared = declared_at(found, frame)
        said = (declared.says, declared.who, declared.when) if declared else ("", "", "")
        if declared and declared.says == "absent":
            return ("absent", *said)
        if not any(span is None or span.first <= frame <= span.last for span in acts):
            return ("off", *said)
        return ("open" if frame in unsure and not declared else "covered", *said)

    return Coverage(found, tuple(_runs(stands(frame) for frame in range(frames))))


def covers_of(sheet: Sheet, frames: int, motions: Motions) -> list[Coverage]:
    """Return how every region of a sheet that must be covered is."""
    found = (coverage(sheet, each.id, frames, motions) for each in sheet.regions)
    return [each for each in found if each is not None]


def _runs(states: Iterator[tuple[State, str, str, str]]) -> Iterator[Run]:
    first = 0
    for (state, declared, who, when), same in groupby(states):
        last = first + sum(1 for _ in same) - 1
        yield Run(first, last, state, declared, who, when)  # type: ignore[arg-type]
        first = last + 1
