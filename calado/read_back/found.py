"""What was found when a file was read back, and how it is put together from what each picture of it showed."""

import hashlib
from dataclasses import asdict, dataclass, field, replace
from math import ceil
from pathlib import Path
from typing import Any

from calado.render.covers import Cover
from calado.render.engine import Order
from calado.sheet.models import Pass, Sheet

#: of the contrast of what is covered, what comes through from which on it is said
MOST_LEFT = 0.02
#: mean difference in luma around the covers, of white, from which on a frame is not the one that was ordered
FAR = 0.05


def at_most(share: float) -> str:
    """Return a share in words that is not below it."""
    return f"{ceil(share * 1000 - 1e-9) / 10:.1f}\u00a0%"


@dataclass(frozen=True)
class UnderCover:
    """What was found under a cover: in how many frames it lies, and the most of what was there that is left.

    ``left`` is a share of the contrast, what may be left at most, ``at`` the frame of the source where that was, None
    in a still; ``surely`` is what is left at least, in the worst frame. ``take`` counts the clips in the file.
    """

    pass_id: str
    name: str
    region: str
    frames: int = 0
    left: float = 0.0
    at: int | None = None
    surely: float = 0.0
    take: int = 0

    @property
    def says(self) -> str:
        """What is left, in a sentence."""
        if not self.frames:
            return f"“{self.name}” covers nothing in {'this picture' if self.at is None else 'these frames'}."
        most = at_most(self.left)
        where = "" if self.at is None else f", in {self.frames} frames"
        return f"Under “{self.name}” at most {most} of what was there is left{where}."


@dataclass(frozen=True)
class ReadBack:
    """What an export holds: its hash, frames, what lies under each cover, how far the rest is from what was ordered.

    ``away`` is a mean difference in luma, of white, the largest of all frames; ``away_at`` is that frame, None in a
    still; ``findings`` are what is wrong, one sentence each; ``beside`` tells what goes along beside picture and sound.
    """

    sha256: str
    frames: int
    covers: tuple[UnderCover, ...]
    away: float
    away_at: int | None
    findings: tuple[str, ...] = field(default=())
    beside: str = ""

    @property
    def says(self) -> str:
        """What was found, in sentences."""
        if self.findings:
            return " ".join(("Read back:", *self.findings))
        off = f"The rest is off by {self.away * 100:.1f}\u00a0% of white"
        if self.away_at is None:
            lead, around = "Read back, all of it.", f"{off} on average."
        else:
            lead = f"Read back, all {self.frames} frames."
            around = f"{off} in frame {self.away_at}, and by less in all others."
        return " ".join(filter(None, (lead, *(each.says for each in self.covers), around, self.beside)))

    def data(self) -> dict[str, Any]:
        """Return it as plain data."""
        return {**asdict(self), "says": self.says}


class Gathered:
    """Takes what each picture of a file showed, and keeps the worst."""

    def __init__(self) -> None:
        self._under: dict[tuple[int, str], UnderCover] = {}
        self._away: list[tuple[float, int | None]] = []
        self.frames = 0

    def frame(self, away: float | None, frame: int | None) -> None:
        """Take one picture: how far it is off around its covers, None where they cover all of it."""
        self.frames += 1
        if away is not None:
            self._away.append((away, frame))

    def cover(self, order: Order, each: Pass, shares: tuple[float, float] | None, frame: int | None, take: int) -> None:
        """Take what came through a cover, at least and at most; None where it covers nothing."""
        region = next((found for sheet in order.sheets if (found := sheet.region(each.region))), None)
        new = UnderCover(each.id, each.name, region.name if region else "whole picture", at=frame, take=take)
        known = self._under.setdefault((take, each.id), new)
        if shares is None:
            return
        surely, left = shares
        left, at = (left, frame) if left > known.left else (known.left, known.at)
        worst = max(surely, known.surely)
        self._under[take, each.id] = replace(known, frames=known.frames + 1, left=left, at=at, surely=worst)

    def found(self, path: Path, findings: tuple[str, ...]) -> ReadBack:
        """Return what was found in all of a file, with what was found besides."""
        away, at = max(self._away, key=lambda each: each[0], default=(0.0, None))
        covers = tuple(self._under.values())
        said = [
            f"Under “{each.name}” {each.left * 100:.0f}\u00a0% of what was there is left{_in(each.at)}."
            for each in covers
            if each.surely > MOST_LEFT
        ]
        if away > FAR:
            said.append(f"{'The picture' if at is None else f'Frame {at}'} is far from what was ordered.")
        with path.open("rb") as file:
            digest = hashlib.file_digest(file, "sha256").hexdigest()
        return ReadBack(digest, self.frames, covers, away, at, (*findings, *said))


def _in(frame: int | None) -> str:
    return "" if frame is None else f" in frame {frame}"


def pass_of(cover: Cover, sheets: tuple[Sheet, ...]) -> Pass:
    """Return the pass that a cover is of."""
    return next(each for sheet in sheets for each in sheet.passes if each.id == cover.pass_id)


def noisy(cover: Cover, each: Pass) -> bool:
    """Return whether a cover holds noise that cannot be made again."""
    return "scramble" in (each.inside if cover.side == "inside" else each.outside)
