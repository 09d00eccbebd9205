"""Parts that starters make from what they read in the picture: finds, hues, skin, lights."""

from itertools import islice

import numpy as np
from numpy.typing import NDArray

from calado.detect.offer import Offer
from calado.detect.subjects import subject_of
from calado.sheet.models import Part
from calado.start.analysis import SKIN, Oval, PictureAnalysis
from calado.start.coloured import coloured_things
from calado.start.starter import part

#: of a face: the share of its size, around its middle, in which skin is looked for
CORE = 0.8
LEAST_PIXELS = 40
#: of a face that is covered, over the one that was found; of a line's height, all round it
FACE_GROWN, LINE_MARGIN = 1.85, 0.2
#: heights of a face, of an oval over head and shoulders, wide and high; room round a figure, in picture heights,
#: and the share of the picture beyond which it is not stood on
SHOULDERS, FIGURE_ROOM, FIGURE_MOST = (2.2, 2.8), 0.08, 0.45
THING_LOOSE = 0.08


def offered(offer: Offer, number: int = 1, *, grown: float = 1.0) -> Part:
    """Return a find as a part, an ellipse of it ``grown`` times its size."""
    values = dict(offer.values)
    for side in ("width", "height"):
        if side in values:
            values[side] = round(float(values[side]) * grown, 4)  # type: ignore[arg-type]
    return Part(id=f"part-{number}", kind=offer.kind, values=values, points=offer.points, strokes=offer.strokes)


def covering(find: Offer, number: int) -> Part:
    """Return a face or a line of lettering as a part to cover, with a margin and no feather inward.

    Of a face, hair and ears go with it; of a line a fifth of its height is added all round.
    """
    if find.name == "face":
        made = offered(find, number, grown=FACE_GROWN)
        return made.model_copy(update={"values": {**made.values, "feather_in": 0.0}})
    made = offered(find, number)
    room = 2 * LINE_MARGIN * float(made.values["height"])  # type: ignore[arg-type]
    wider = {id: round(float(made.values[id]) + room, 4) for id in ("width", "height")}  # type: ignore[arg-type]
    return made.model_copy(update={"values": {**made.values, **wider}})


def face_oval(find: Offer) -> Oval:
    """Return where a found face lies."""
    x, y, wide, high = (float(find.values[id]) for id in ("x", "y", "width", "height"))  # type: ignore[arg-type]
    return Oval(x, y, wide, high)


def stands_on(analysis: PictureAnalysis) -> Oval:
    """Return an oval over the found figure, or head and shoulders of a found face, else where the eye likely goes."""
    subjects, faces = analysis.found("subject"), analysis.found("face")
    left, top, wide, high = subjects[0].box if subjects else (0.0, 0.0, analysis.aspect, 1.0)
    # of one that fills the picture nothing would be left outside
    if wide * high < FIGURE_MOST * analysis.aspect:
        return Oval(left + wide / 2, top + high / 2, wide + FIGURE_ROOM, high + FIGURE_ROOM)
    if faces:
        face = face_oval(faces[0])
        wide, high = (grown * face.height for grown in SHOULDERS)
        # of a near one the frame's sides stay outside
        wide, high = min(wide, 0.7 * analysis.aspect), min(high, 0.95)
        below = max(min(0.3 * face.height, (high - face.height) / 2), 0.0)
        return Oval(face.x, face.y + below, wide, high)
    return analysis.subject


def coloured_part(analysis: PictureAnalysis, rank: int = 0) -> Part | None:
    """Return the most colourful thing, or one of those that follow, cut out between a loose outline and marks on it.

    None where there are fewer.
    """
    things = (subject_of(found.mask, 1.0, THING_LOOSE) for found in coloured_things(analysis.lch))
    thing = next(islice((each for each in things if each is not None), rank, None), None)
    return None if thing is None else Part(id="part-1", kind="rough", points=thing.outline, strokes=thing.marks)


def hue_part(analysis: PictureAnalysis, hue: float | None = None) -> Part:
    """Return a colour range on a hue, in degrees: that of the most colourful place unless another is given."""
    if hue is None:
        place = analysis.colourful
        within = _within(analysis, place.x, place.y, place.width, place.height) & (analysis.lch[..., 1] > 0.04)
        hue = _middle_hue(analysis, within) if within.any() else 40.0
    return part("colours", hue=hue, hue_width=22.0, hue_soft=12.0, chroma_low=0.045, chroma_soft_low=0.03)


def skin_part(analysis: PictureAnalysis, places: list[Part], number: int) -> Part | None:
    """Return a colour range on the skin within some ellipses, to intersect them; None where no skin is seen there.

    Lips are stronger in colour and redder, the whites of eyes paler, brows and hair darker: the slopes end before them.
    It is read calmly, so that a lock of hair counts by its middle lightness, not by its brightest strands.
    """
    within = np.zeros(analysis.signal.shape, bool)
    for each in places:
        x, y, wide, high = (float(each.values[id]) for id in ("x", "y", "width", "height"))  # type: ignore[arg-type]
        within |= _within(analysis, x, y, CORE * wide, CORE * high)
    for k, (low, high) in zip((2, 1, 0), SKIN, strict=True):
        within &= (analysis.lch[..., k] > low) & (analysis.lch[..., k] < high)
    if within.sum() < LEAST_PIXELS:
        return None
    lightness, chroma = (analysis.lch[..., k][within] for k in (0, 1))
    low, pale, strong = float(np.quantile(lightness, 0.1)), *(float(each) for each in np.quantile(chroma, (0.1, 0.9)))
    middle = _middle_hue(analysis, within)
    away = np.abs((analysis.lch[..., 2][within] - middle + 180) % 360 - 180)
    skin = part(
        "colours",
        number,
        hue=middle,
        hue_width=min(max(float(np.quantile(away, 0.7)), 5.0), 14.0),
        hue_soft=12.0,
        chroma_low=max(pale - 0.015, 0.02),
        chroma_soft_low=0.015,
        chroma_high=strong + 0.015,
        chroma_soft_high=0.025,
        by_lightness="on",
        light_low=max(low - 0.02, 0.1),
        light_soft_low=0.1,
        denoise=0.01,
    )
    return skin.model_copy(update={"join": "intersect"})


def lights_part(analysis: PictureAnalysis) -> Part:
    """Return a luminance range of the lights: open at the top, its low end very soft and above the middle tone."""
    middle, bright = (float(each) for each in np.quantile(analysis.signal, (0.5, 0.995)))
    low = min(max(middle + 0.6 * (bright - middle), 0.3), 0.95)
    return part("luminance", low=low, soft_low=min(0.75 * (low - middle), 0.45) if low > middle else 0.1, high=1.0)


def _within(analysis: PictureAnalysis, x: float, y: float, wide: float, high: float) -> NDArray[np.bool_]:
    rows, columns = (np.mgrid[: analysis.signal.shape[0], : analysis.signal.shape[1]] + 0.5) / analysis.signal.shape[0]
    inside: NDArray[np.bool_] = ((columns - x) / (wide / 2)) ** 2 + ((rows - y) / (high / 2)) ** 2 < 1
    return inside


def _middle_hue(analysis: PictureAnalysis, within: NDArray[np.bool_]) -> float:
    """Return the mean hue of some pixels, in degrees, weighed by chroma."""
    hue, chroma = np.radians(analysis.lch[..., 2][within]), analysis.lch[..., 1][within]
    return float(np.degrees(np.arctan2((chroma * np.sin(hue)).sum(), (chroma * np.cos(hue)).sum())) % 360)
