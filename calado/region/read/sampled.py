"""Sampled colour: what is like colours taken from the picture, and unlike those kept out.

The distance is Euclidean in OKLab, a hundredfold (so that white and black are 100 apart), or ΔE₀₀. A place is as
near as its nearest sample; where a sample kept out is as near or nearer, the place is out to that degree.

References
----------
Ottosson2020, Sharma2005
"""

import numpy as np
from numpy.typing import NDArray

from calado.arrays import Matte
from calado.colour.difference import delta_e_2000, linear_to_lab
from calado.colour.oklab import oklab_to_linear
from calado.colour.spaces import ColourSpace
from calado.compiled import compiled
from calado.region.affine import Affine
from calado.region.context import ALONE, PartContext
from calado.region.parameters import PROFILE
from calado.region.part import PartKind
from calado.region.read.planes import lab_of
from calado.region.read.slope import slope_into
from calado.region.read.taken import Taken
from calado.region.sampler import DENOISE, READS, reads_of
from calado.sheet.declare import Choice, Number, Option, Unit
from calado.sheet.models import Part, Sample
from calado.strips import for_rows
from calado.window import Window

METRIC = Choice("metric", "Measured in", (Option("oklab", "OKLab"), Option("e00", "CIEDE2000")))
#: one above the largest difference
NONE = np.float32(1e4)
MOST_SAMPLES = 60


@compiled()
def _nearest_rows(lab, samples, first, last, out):  # type: ignore[no-untyped-def]
    for y in range(first, last):
        for x in range(lab.shape[2]):
            least = np.float32(1e30)
            for k in range(samples.shape[0]):
                dl, da, db = lab[0, y, x] - samples[k, 0], lab[1, y, x] - samples[k, 1], lab[2, y, x] - samples[k, 2]
                least = min(least, dl * dl + da * da + db * db)
            out[y, x] = np.sqrt(least) * np.float32(100)


def nearest(lab: NDArray[np.float32], samples: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the distance, a hundredfold, shape (H, W), of OKLab planes to the nearest of colours, shape (N, 3)."""
    _, high, wide = lab.shape
    out = np.full((high, wide), NONE, np.float32)
    if len(samples):
        for_rows(out.shape[0], 64, lambda first, last: _nearest_rows(lab, samples, first, last, out))
    return out


def _nearest_e00(planes: NDArray[np.float32], space: ColourSpace, samples: NDArray[np.float32]) -> NDArray[np.float32]:
    _, high, wide = planes.shape
    out = np.full((high, wide), NONE, np.float32)
    lab = linear_to_lab(np.moveaxis(np.clip(planes, 0, 4), 0, -1), space)
    for colour in linear_to_lab(oklab_to_linear(samples.astype(np.float64), space), space):
        np.minimum(out, delta_e_2000(lab, np.broadcast_to(colour, lab.shape)), out=out)
    return out


def _colours(part: Part, does: str) -> NDArray[np.float32]:
    found = [(each.lightness, each.a, each.b) for each in part.samples if each.does == does]
    return np.array(found, np.float32).reshape(-1, 3)


def sampled_matte(part: Part, window: Window, near: PartContext = ALONE) -> Matte:
    """Return the matte, shape (H, W): whole within the tolerance, falling to nothing over the softness beyond.

    No samples give nothing.
    """
    tolerance, softness = (SAMPLED.number(part.values, id) for id in ("tolerance", "softness"))
    profile = str(part.values.get("profile", PROFILE.neutral))
    like = _distance(part, "add", window, near)
    out = np.ones(like.shape, np.float32)
    slope_into(out, like, (-1.0, 0.0, tolerance, softness), profile)
    if any(each.does == "erase" for each in part.samples):
        unlike = _distance(part, "erase", window, near)
        # as near to both is half out; nearer to what is kept out by the softness is all out
        slope_into(out, like - unlike, (-1e30, 0.0, -max(softness, 0.5) / 2, max(softness, 0.5)), profile)
    return out


def _distance(part: Part, does: str, window: Window, near: PartContext) -> NDArray[np.float32]:
    seen = near.picture
    space = seen.space
    denoise, colours = SAMPLED.number(part.values, "denoise"), _colours(part, does)
    if part.values.get("metric") == "e00":
        return seen.made(
            f"e00 {colours.tolist()}", reads_of(part.values), denoise, window, lambda p: _nearest_e00(p, space, colours)
        )
    lab = seen.made("lab", reads_of(part.values), denoise, window, lambda p: lab_of(p, space))
    return nearest(lab, colours)


def _taken(part: Part, taken: Taken) -> Part:
    """Return the part with a sample more."""
    x, y, width, height = (round(each, 5) for each in taken.box)
    lightness, a, b = (round(float(each), 5) for each in np.median(taken.lab, axis=0))
    does = "erase" if taken.does == "erase" else "add"
    sample = Sample(x=x, y=y, width=width, height=height, does=does, lightness=lightness, a=a, b=b)
    before = () if taken.does == "set" else part.samples
    return part.model_copy(update={"samples": (*before, sample)[-MOST_SAMPLES:]})


def _told(part: Part) -> str:
    put, take = (sum(each.does == does for each in part.samples) for does in ("add", "erase"))
    said = f"{put} sample" if put == 1 else f"{put} samples"
    return f"{said}, {take} kept out" if take else said


def _mapped(part: Part, affine: Affine) -> Part:
    """Return the part under a map of the plane: the colours stay, where they were taken goes along."""
    moved = []
    for each in part.samples:
        x, y = affine.place(each.x + each.width / 2, each.y + each.height / 2)
        width, height = affine.length * each.width, affine.length * each.height
        box = {"x": x - width / 2, "y": y - height / 2, "width": width, "height": height}
        moved.append(each.model_copy(update=box))
    return part.model_copy(update={"samples": tuple(moved)})


SAMPLED = PartKind(
    id="sampled",
    name="Sampled colour",
    parameters=(
        Number("tolerance", "Tolerance", Unit.DELTA, 8.0, 0.0, 40.0, 0.0, 100.0, 0.2, curve="square"),
        Number("softness", "Softness", Unit.DELTA, 6.0, 0.0, 40.0, 0.0, 100.0, 0.2, curve="square"),
        DENOISE,
        READS,
        METRIC,
        PROFILE,
    ),
    glyph="M3 2.5h3.5V6H3zM10 1.5h3.5V5H10zM7.5 8H11v3.5H7.5z",
    drawn="sample",
    noun="colour",
    samples=True,
    says="What is like colours that you take from the picture.",
    matte=sampled_matte,
    mapped=_mapped,
    sees=lambda part: reads_of(part.values),
    taken=_taken,
    told=_told,
)
