"""One figure of the table of speeds, as the parts hand it on."""

from dataclasses import asdict, dataclass
from typing import Any


@dataclass(frozen=True)
class Figure:
    """What was measured, what is to be reached, and how many times as much CPU the plain way takes, where there is one.

    Of ``unit`` “× copy”: one thread's CPU time as a multiple of copying the same picture as float32.
    """

    what: str
    value: float
    unit: str
    reach: float | None = None
    stretch: float | None = None
    plain: float | None = None
    #: more is better
    rises: bool = False

    def data(self) -> dict[str, Any]:
        """Return it as plain data."""
        return asdict(self)

    @property
    def said(self) -> str:
        """The value with its unit."""
        return f"{number(self.value)} {self.unit}".strip()

    @property
    def met(self) -> str:
        """How far it comes: the stretch, the reach, or neither."""
        for target, word in ((self.stretch, "stretch"), (self.reach, "reached")):
            if target is not None and (self.value >= target if self.rises else self.value <= target):
                return word
        return "" if self.reach is None else "not yet"


def number(value: float) -> str:
    """Return a number to three digits at most."""
    return (
        f"{value:.0f}"
        if abs(value) >= 100
        else f"{value:.1f}"
        if abs(value) >= 10
        else f"{value:.2f}".rstrip("0").rstrip(".")
    )
