"""The registry of steps, in the order in which they are done: one line each."""

from math import ceil

from calado.arrays import Matte
from calado.region.refine.blur import BLUR
from calado.region.refine.clip import CLIP
from calado.region.refine.grow import GROW, OPEN_CLOSE
from calado.region.refine.smooth import SMOOTH
from calado.region.refine.step import RefineStep
from calado.sheet.declare import Declaration, Number, Unit, Values

STEPS: tuple[RefineStep, ...] = (OPEN_CLOSE, GROW, SMOOTH, BLUR, CLIP)
REFINE = Declaration("refine", "Refine", tuple(number for step in STEPS for number in step.numbers))


def _numbers(step: RefineStep, values: Values) -> tuple[float, ...]:
    return tuple(REFINE.number(values, number.id) for number in step.numbers)


def acts(values: Values) -> bool:
    """Whether any step changes anything."""
    return any(REFINE.number(values, number.id) != number.neutral for number in REFINE.numbers)


def reach_px(values: Values, pixel: float) -> int:
    """Return how many pixels around a window all steps together read."""
    reaches = [step.reach(*_numbers(step, values)) / pixel for step in STEPS]
    return sum(ceil(reach) + 2 for reach in reaches if reach > 0)


def refined(matte: Matte, values: Values, pixel: float) -> Matte:
    """Return the matte, shape (H, W), after every step that is not neutral; ``pixel`` in picture heights."""
    for step in STEPS:
        numbers = _numbers(step, values)
        if any(value != number.neutral for value, number in zip(numbers, step.numbers, strict=True)):
            matte = step.apply(matte, *(_in_pixels(v, n, pixel) for v, n in zip(numbers, step.numbers, strict=True)))
    return matte


def _in_pixels(value: float, number: Number, pixel: float) -> float:
    return value / pixel if number.unit is Unit.LENGTH else value
