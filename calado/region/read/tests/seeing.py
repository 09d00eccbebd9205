"""Pictures for tests of parts that are read from one."""

import numpy as np
from numpy.typing import NDArray

from calado.colour.spaces import SRGB, ColourSpace
from calado.region.context import PartContext
from calado.region.kinds import PARTS
from calado.region.sampler import PictureSampler
from calado.sheet.models import Part, Sample
from calado.window import Window, full_window


def seen_of(linear: NDArray[np.floating], space: ColourSpace = SRGB) -> tuple[PictureSampler, Window]:
    """Return a picture, shape (H, W, 3), linear light, as parts see it at its full size, and its window."""
    planes = np.ascontiguousarray(np.moveaxis(np.asarray(linear, np.float32), -1, 0))
    whole = full_window(planes.shape[2], planes.shape[1])

    def read(window: Window) -> NDArray[np.float32]:
        rows, columns = window.inside(whole)
        return np.ascontiguousarray(planes[:, rows, columns])

    return PictureSampler("picture", "", space, read, lambda window: read(window) * np.float32(0.5)), whole


def matte_of(kind: str, linear: NDArray[np.floating], space: ColourSpace = SRGB, **values: object) -> NDArray:
    """Return the matte of a part of a kind on a picture."""
    samples = values.pop("samples", ())
    seen, whole = seen_of(linear, space)
    part = Part(id="p", kind=kind, values=values, samples=samples)
    return PARTS[kind].matte(part, whole, PartContext(seen=seen))


def sample(lightness: float, a: float, b: float, does: str = "add") -> Sample:
    return Sample(x=0.5, y=0.5, lightness=lightness, a=a, b=b, does=does)
