"""Balancing a pass for the light of a place that should be grey: temperature and tint from a press on the picture."""

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.adjust.colour.white import TEMPERATURE, TINT, temperature_matrix, tint_matrix
from calado.colour.spaces import ColourSpace
from calado.errors import RequestError, SheetError
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.sheet.models import Sheet, Treatment
from calado.sheet.within import pass_called, with_pass
from calado.window import window_of_rectangle

#: what is darker, or has a channel that is all but nothing, tells no colour of light
LEAST = 0.002
#: mired and Duv that make about as much of a difference
UNIT = (50.0, 0.01)


def balanced(
    engine: Engine, source: Source, sheet: Sheet, pass_id: str, side: str, box: tuple[float, float, float, float]
) -> Sheet:
    """Return the sheet with a pass balanced so that the mean of a box, as it comes into it, is grey.

    ``box`` = (x, y, width, height) in picture heights; ``side`` is inside or outside.

    Raises
    ------
    SheetError
        when there is no such pass.
    RequestError
        for a box beside the picture, or one in which no light can be read.
    """
    found = pass_called(sheet, pass_id)
    if side not in ("inside", "outside"):
        raise SheetError(f"A pass has an inside and an outside, no “{side}”.", code="sheet.side")
    before = sheet.model_copy(update={"passes": sheet.passes[: sheet.passes.index(found)]})
    high = source.height
    rectangle = (box[0] * high, box[1] * high, box[2] * high, box[3] * high)
    window = window_of_rectangle((source.width, source.height), 1.0, rectangle)
    light = engine.picture(source, Order(before), window).reshape(3, -1).mean(axis=1, dtype=np.float64)
    if not np.isfinite(light).all() or light.min() < LEAST:
        raise RequestError("This place is too dark, or too strongly coloured, to tell the light. Press a grey.")
    shift, duv = _neutralising(light, source.space)
    made: Treatment = {**getattr(found, side), "temperature": {"shift": shift}, "tint": {"duv": duv}}
    return with_pass(sheet, found.model_copy(update={side: made}))


def _neutralising(light: NDArray[np.float64], space: ColourSpace) -> tuple[float, float]:
    """Return the shift in mired and the Duv that make a light grey, as nearly as both faders reach."""
    ends = [each.numbers[0] for each in (TEMPERATURE, TINT)]
    low, high = ([getattr(end, side) for end in ends] for side in ("floor", "ceiling"))

    def away(at: NDArray[np.float64]) -> NDArray[np.float64]:
        made = tint_matrix(float(at[1] * UNIT[1]), space) @ temperature_matrix(float(at[0] * UNIT[0]), space) @ light
        logs: NDArray[np.float64] = np.log(np.maximum(made, 1e-9))
        return logs[[0, 2]] - logs[1]

    bounds = np.divide(low, UNIT), np.divide(high, UNIT)
    shift, duv = scipy.optimize.least_squares(away, (0.0, 0.0), bounds=bounds).x * UNIT
    return round(float(shift), 1), round(float(duv), 4)
