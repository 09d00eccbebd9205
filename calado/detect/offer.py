"""A find as the part that it would be."""

from dataclasses import dataclass, field
from typing import Literal

import cv2

from calado.detect.private import looks_private
from calado.sheet.declare import Value
from calado.sheet.models import Corner, Stroke

#: *read* are the lines of *text* with what they say, where that can be read
Kind = Literal["subject", "face", "text", "read"]
#: what is doubtful is called so, and nothing covers it by itself
PERHAPS = "perhaps "


@dataclass(frozen=True)
class Offer:
    """A find: what it is, how sure, its box (left, top, width, height) in picture heights, and the part it would be."""

    name: str
    certainty: float
    box: tuple[float, float, float, float]
    kind: str
    values: dict[str, Value] = field(default_factory=dict)
    points: tuple[Corner, ...] = ()
    strokes: tuple[Stroke, ...] = ()
    #: of a face its two eyes and its mouth, as places in picture heights
    features: tuple[tuple[float, float], ...] = ()
    #: of a face that was seen closely, the closed outlines of its features, in picture heights
    curves: dict[str, tuple[tuple[tuple[float, float], ...], ...]] = field(default_factory=dict)
    #: what a line of lettering says, where that was read, and whether it is upside down
    reads: str = ""
    over: bool = False

    @property
    def sure(self) -> bool:
        """Whether it is what its name says."""
        return not self.name.startswith(PERHAPS)

    @property
    def closely(self) -> bool:
        """Whether it is a face whose features are seen."""
        return bool(self.curves) and len(self.features) == 3

    @property
    def private(self) -> bool:
        """Whether what it says looks like a number, a plate or a name, for a person to decide."""
        return bool(self.reads) and looks_private(self.reads)

    @property
    def outline(self) -> tuple[tuple[float, float], ...]:
        """The corners of what shows where it is, in picture heights: of a line of lettering its turned box."""
        left, top, width, height = self.box
        x, y, turn = left + width / 2, top + height / 2, 0.0
        if self.kind == "rectangle":
            width, height, turn = (float(self.values.get(name, 0.0)) for name in ("width", "height", "turn"))  # type: ignore[arg-type]
        corners = cv2.boxPoints(((x, y), (width, height), turn)).tolist()
        return tuple((round(px, 4), round(py, 4)) for px, py in corners)
