"""What a step of refining must bring."""

from collections.abc import Callable
from dataclasses import dataclass

from calado.arrays import Matte
from calado.sheet.declare import Number


@dataclass(frozen=True)
class RefineStep:
    """A step with one number or several.

    ``apply(matte, *lengths)`` returns the matte after it, shape (H, W), the numbers given in pixels where they are
    lengths; ``reach(*numbers)`` how far, in the numbers' own unit, a pixel looks.
    """

    numbers: tuple[Number, ...]
    apply: Callable[..., Matte]
    reach: Callable[..., float] = lambda *numbers: 0.0
