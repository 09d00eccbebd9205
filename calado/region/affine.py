"""Affine maps of the picture's plane, in picture heights: mirrors, other frames, and motions."""

from dataclasses import dataclass
from math import sqrt

from calado.sheet.declare import Values

DIGITS = 5


@dataclass(frozen=True)
class Affine:
    """The map (x, y) → (xx · x + xy · y + dx, yx · x + yy · y + dy).

    ``length`` is what it does to lengths that have no direction: feathers, brushes, radii. ``frame`` tells that it
    takes a picture's frame into another one, in which what fills the frame fills that.
    """

    xx: float
    xy: float
    yx: float
    yy: float
    dx: float
    dy: float
    length: float
    frame: bool = False

    @classmethod
    def across(cls, scale: float, shift: float) -> "Affine":
        """Return x → scale · x + shift: a mirror for −1, else another frame, in which lengths stay."""
        return cls(scale, 0.0, 0.0, 1.0, shift, 0.0, 1.0, frame=True)

    @classmethod
    def of(cls, xx: float, xy: float, yx: float, yy: float, dx: float, dy: float) -> "Affine":
        """Return any map; lengths go by the root of what areas do."""
        return cls(xx, xy, yx, yy, dx, dy, sqrt(abs(xx * yy - xy * yx)))

    @property
    def flips(self) -> bool:
        """Whether it changes left and right."""
        return self.xx * self.yy - self.xy * self.yx < 0

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Return where a place goes, rounded to what a sheet keeps."""
        way = self.vector(x, y)
        return round(way[0] + self.dx, DIGITS), round(way[1] + self.dy, DIGITS)

    def vector(self, x: float, y: float) -> tuple[float, float]:
        """Return where a way goes, which has no place."""
        return self.xx * x + self.xy * y, self.yx * x + self.yy * y

    def normal(self, x: float, y: float) -> tuple[float, float]:
        """Return the direction across a line, whose direction across was (x, y); not of unit length."""
        det = self.xx * self.yy - self.xy * self.yx
        return (self.yy * x - self.yx * y) / det, (self.xx * y - self.xy * x) / det

    def lengths(self, values: Values, *ids: str) -> dict[str, float]:
        """Return the lengths of these ids, where there are values for them, as they become."""
        held = {id: values[id] for id in ids if id in values}
        return {id: round(self.length * float(value), DIGITS) for id, value in held.items()}  # type: ignore[arg-type]
