"""A sheet at one frame of a clip: time enters here, once, and nothing that renders knows of it.

Convention: frames are counted from 0. Before the first key and after the last the value holds; from a key to the next
the way goes as the first of the two says. A smooth way is the monotone cubic through all keys (FritschCarlson1980, by
SciPy's ``PchipInterpolator``), so that it never leaves the interval of its two neighbours.
"""

from collections.abc import Mapping, Sequence
from functools import lru_cache

import numpy as np
import scipy
from numpy.typing import NDArray

from calado.sheet.declare import Catalogue
from calado.sheet.models import Anchor, Corner, Declared, Ease, Fix, Keys, Part, Pass, Region, Sheet, Track, Treatment

#: how far apart the seeds of two frames are; a prime, so that no two frames of a clip share one soon
SEEDS_APART = 10_007


def sheet_at(sheet: Sheet, frame: int, catalogue: Catalogue) -> Sheet:
    """Return the sheet as it stands at a frame: nothing moves in it any more.

    What stands still is the same object as before, so that whatever is kept by its value stays kept.
    """
    regions = tuple(region_at(region, frame) for region in sheet.regions)
    passes = tuple(_pass_at(each, frame, catalogue) for each in sheet.passes)
    same = all(a is b for a, b in zip((*regions, *passes), (*sheet.regions, *sheet.passes), strict=True))
    return sheet if same else sheet.model_copy(update={"regions": regions, "passes": passes})


def region_at(region: Region, frame: int) -> Region:
    """Return a region as it stands at a frame."""
    if not any(moves(part) for part in region.parts):
        return region
    parts = tuple(part_at(part, frame) for part in region.parts)
    return region.model_copy(update={"parts": parts, "anchor": _anchor(region, parts)})


def _anchor(region: Region, now: Sequence[Part]) -> Anchor:
    """Return where a region's own frame lies, by the first of its parts that moves, against its first key."""
    part, moved = next((was, is_) for was, is_ in zip(region.parts, now, strict=True) if moves(was))
    was, is_ = (_placed(each) for each in (part_at(part, frames_of(part)[0]), moved))
    # as complex numbers a turn and a size are one factor
    spread = float(np.vdot(was[1:], was[1:]).real)
    factor = complex(np.vdot(was[1:], is_[1:]) / spread) if spread > 0 and np.abs(is_[1:]).any() else 1 + 0j
    to = is_[0] - factor * was[0]
    return Anchor(x=to.real, y=to.imag, xx=factor.real, xy=-factor.imag, yx=factor.imag, yy=factor.real)


def _placed(part: Part) -> NDArray[np.complex128]:
    """Return where a part lies, then its extent as ways from there: of an outline each point, else one, its size."""
    if part.points:
        points = np.array([complex(*point[:2]) for point in part.points])
        middle = points.mean()
        return np.concatenate([[middle], points - middle])
    x, y, width, height, turn = (float(part.values.get(n, 0.0)) for n in ("x", "y", "width", "height", "turn"))  # type: ignore[arg-type]
    return np.array([complex(x, y), np.sqrt(max(width * height, 0.0)) * np.exp(1j * np.radians(turn))])


def part_at(part: Part, frame: int) -> Part:
    """Return a part as it stands at a frame, without its keys."""
    if not moves(part):
        return part
    values = {**part.values, **{id: value_at(keys, frame) for id, keys in part.keys.items()}}
    points = _points_at(part, frame) if part.point_keys else part.points
    return part.model_copy(update={"values": values, "points": points, "keys": {}, "point_keys": {}})


def moves(part: Part) -> bool:
    """Return whether a part has keys."""
    return bool(part.keys or part.point_keys)


def frames_of(part: Part) -> tuple[int, ...]:
    """Return the frames at which a part has a key, in order."""
    found = {frame for keys in part.keys.values() for frame in keys} | set(part.point_keys)
    return tuple(sorted(int(frame) for frame in found))


def keyed_frames(region: Region) -> tuple[int, ...]:
    """Return the frames at which any part of a region has a key, in order."""
    return tuple(sorted({frame for part in region.parts for frame in frames_of(part)}))


def declared_at(region: Region, frame: int) -> Declared | None:
    """Return what somebody declared of a frame of a region, or None."""
    return next((each for first, each in region.covers.items() if int(first) <= frame <= each.last), None)


def value_at(keys: Keys, frame: int) -> float:
    """Return a keyed value at a frame."""
    return float(_way(*_listed({at: ((key.value,), key.ease) for at, key in keys.items()}), frame)[0])


def fix_at(track: Track, frame: int) -> Fix:
    """Return by how much a motion is corrected at a frame: none at its reference."""
    if not track.fixes:
        return Fix()
    known = {**track.fixes, str(track.at): Fix()}
    listed = {at: ((fix.dx, fix.dy, fix.scale, fix.turn), "smooth") for at, fix in known.items()}
    dx, dy, scale, turn = _way(*_listed(listed), frame)  # type: ignore[arg-type]
    return Fix(dx=dx, dy=dy, scale=scale, turn=turn)


def _points_at(part: Part, frame: int) -> tuple[Corner, ...]:
    keys = {at: (tuple(n for point in key.points for n in point), key.ease) for at, key in part.point_keys.items()}
    numbers = iter(_way(*_listed(keys), frame))
    return tuple(tuple(next(numbers) for _ in point) for point in part.points)


Listed = tuple[tuple[int, ...], tuple[tuple[float, ...], ...], tuple[Ease, ...]]


def _listed(keys: Mapping[str, tuple[Sequence[float], Ease]]) -> Listed:
    order = sorted(keys, key=int)
    return (
        tuple(int(frame) for frame in order),
        tuple(tuple(float(n) for n in keys[frame][0]) for frame in order),
        tuple(keys[frame][1] for frame in order),
    )


@lru_cache(maxsize=4096)
def _way(
    frames: tuple[int, ...], values: tuple[tuple[float, ...], ...], eases: tuple[Ease, ...], frame: int
) -> tuple[float, ...]:
    """Return the values of keys at ``frames`` on the way at ``frame``."""
    if frame <= frames[0] or len(frames) == 1:
        return values[0]
    if frame >= frames[-1]:
        return values[-1]
    after = next(k for k, at in enumerate(frames) if at > frame)
    before = after - 1
    if eases[before] == "hold" or frame == frames[before]:
        return values[before]
    low, high = np.array(values[before]), np.array(values[after])
    if eases[before] == "linear":
        made = low + (high - low) * (frame - frames[before]) / (frames[after] - frames[before])
    else:
        made = scipy.interpolate.PchipInterpolator(frames, np.array(values), axis=0)(frame)
    # rounding must not leave the interval
    held = np.clip(made, np.minimum(low, high), np.maximum(low, high))
    return tuple(float(each) for each in held)


def _pass_at(each: Pass, frame: int, catalogue: Catalogue) -> Pass:
    changes: dict[str, object] = {name: value_at(keys, frame) for name, keys in each.keys.items() if keys}
    share = span_share(each, frame)
    if share == 0:
        changes["on"] = False
    elif share < 1:
        changes["mix"] = float(changes.get("mix", each.mix)) * share  # type: ignore[arg-type]
    for side, treatment in (("inside", each.inside), ("outside", each.outside)):
        seeded = _seeded(treatment, frame, catalogue)
        if seeded is not treatment:
            changes[side] = seeded
    if not changes and each.span is None and not each.keys:
        return each
    return each.model_copy(update={**changes, "span": None, "keys": {}})


def span_share(each: Pass, frame: int) -> float:
    """Return how much of a pass there is at a frame, 0…1, by its span."""
    span = each.span
    if span is None:
        return 1.0
    if not span.first <= frame <= span.last:
        return 0.0
    come = (frame - span.first + 1) / (span.fade_in + 1)
    gone = (span.last - frame + 1) / (span.fade_out + 1)
    return min(1.0, come, gone)


def _seeded(treatment: Treatment, frame: int, catalogue: Catalogue) -> Treatment:
    """Return a treatment whose noise is another one in this frame; in frame 0 it is as on a still."""
    varied = {
        id: number
        for id in treatment
        if id in catalogue.adjustments and (number := catalogue.adjustments[id].per_frame) and frame
    }
    if not varied:
        return treatment
    made = dict(treatment)
    for id, number in varied.items():
        seed = catalogue.adjustments[id].number(treatment[id], number)
        made[id] = {**treatment[id], number: seed + SEEDS_APART * frame}
    return made
