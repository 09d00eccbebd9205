"""A region followed through a clip: its frames read in order, each way from where it begins."""

from collections.abc import Iterator
from itertools import chain

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes, Matte
from calado.errors import RequestError
from calado.follow.camera import OnSet
from calado.follow.carried import sheet_in_time
from calado.follow.fits import KINDS, Kind, Matrix
from calado.follow.motion import Motion, Motions, Step, digest_of_marks, no_motions
from calado.follow.planar import Found, Planar
from calado.follow.several import Several, blended, mask_by
from calado.media.clips.clip import Clip
from calado.media.clips.facts import ClipFacts
from calado.media.clips.following_faces import followed_face, marked_face, no_face
from calado.media.clips.following_shapes import Keep, followed_shape
from calado.media.clips.frames import Frames
from calado.media.clips.part import ClipPart
from calado.media.clips.shots import colours_of, luma_of
from calado.media.clips.way import Told, Way
from calado.region.solve.rough import ALPHA_SIDE, ROUGH
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.sheet.models import Region, Sheet, Track
from calado.sheet.within import region_called, with_region

#: lines at which it is followed: a tenth of a pixel there is a third of one at 4K
LINES = 720
#: pixels that a region must have, and the share of the frame that it may
FEWEST, MOST = 150, 0.9


def follow_scale(facts: ClipFacts) -> float:
    """Return the scale at which a clip is followed."""
    return min(LINES / min(facts.height, facts.width), 1.0)


def followed(
    clip: Clip | ClipPart, mask: NDArray[np.bool_], way: Way, name: str, told: Told = lambda frame, step, share: True
) -> Motion:
    """Return the motion of what ``mask``, shape (H, W), shows at the reference frame, at the scale of following.

    ``told(frame, step, share)`` hears of each frame and how much is done; once it says False, what was followed until
    then is the answer.

    Raises
    ------
    RequestError
        when there is too little or too much to follow, or no such frame.
    MediaError
        when a frame cannot be decoded.
    """
    _refuse(clip.facts.frames, mask, way)
    return _followed(clip, mask, way, name, told)


def _followed(clip: Clip | ClipPart, mask: NDArray[np.bool_], way: Way, name: str, told: Told) -> Motion:
    kind: Kind = "perspective" if way.kind not in KINDS else way.kind
    known = way.known.steps if way.known else {}
    motion = Motion(
        name, way.at, _middle(mask), {**known, way.at: Step(np.eye(3), 1.0)}, "set" if way.kind == "set" else kind
    )
    if way.matrix is not None:
        motion = motion.with_step(way.start, Step(way.matrix / way.matrix[2, 2], 1.0))
    for each in way.ways:
        motion = motion.without(each)
    count, done = sum(len(each) for each in way.ways) + len(way.between), 0
    for frame, step in chain(_onwards(clip, mask, way, kind), _between(clip, mask, way, kind, motion)):
        motion, done = motion.with_step(frame, step), done + 1
        if not told(frame, step, done / count):
            break
    return motion


def _onwards(clip: Clip | ClipPart, mask: NDArray[np.bool_], way: Way, kind: Kind) -> Iterator[tuple[int, Step]]:
    """Yield the steps away from where it is followed from."""
    size, high = mask.shape[::-1], mask.shape[0]
    to_heights = _heights(high)
    codes = grey_at if way.kind == "set" else codes_at
    reference = codes(clip, way.at, size)
    for each in way.ways:
        follower = OnSet(reference) if way.kind == "set" else Several(reference, mask, kind)
        if way.matrix is not None:
            matrix = np.linalg.inv(to_heights) @ way.matrix @ to_heights
            follower.go_on(codes(clip, way.start, size), matrix)
        for frame in each:
            found = follower.step(codes(clip, frame, size))
            yield frame, _step(to_heights @ found.matrix @ np.linalg.inv(to_heights), found, high)


def _between(
    clip: Clip | ClipPart, mask: NDArray[np.bool_], way: Way, kind: Kind, known: Motion
) -> Iterator[tuple[int, Step]]:
    """Yield the steps from a further reference back to the one before it, between what both tell."""
    size, high = mask.shape[::-1], mask.shape[0]
    if way.matrix is None or way.kind == "set" or not way.between:
        return
    to_heights = _heights(high)
    to_pixels = np.linalg.inv(to_heights)
    own = mask_by(mask, to_pixels @ way.matrix @ to_heights)
    if own.sum() < FEWEST:
        return
    back = Planar(codes_at(clip, way.start, size), own, kind)
    for frame in way.between:
        found = back.step(codes_at(clip, frame, size))
        other = _step(to_heights @ found.matrix @ to_pixels @ way.matrix, found, high)
        share = 1 - abs(frame - way.start) / (len(way.between) + 1)
        yield frame, blended(known.near(frame), other, share, _box(mask), high)


def _step(matrix: Matrix, found: Found, high: int) -> Step:
    return Step(matrix / matrix[2, 2], found.confidence, found.state, smear=found.smear / high)


def _box(mask: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Return the corners of a mask's box, shape (4, 2), in picture heights."""
    y, x = np.nonzero(mask)
    left, top, right, bottom = x.min(), y.min(), x.max() + 1, y.max() + 1
    return np.array([[left, top], [right, top], [right, bottom], [left, bottom]], np.float64) / mask.shape[0]


def _middle(mask: NDArray[np.bool_]) -> tuple[float, float]:
    """Return the middle of a region in picture heights, of one that is not in the frame that of the frame."""
    y, x = np.nonzero(mask if mask.any() else np.ones_like(mask))
    return float(x.mean() + 0.5) / mask.shape[0], float(y.mean() + 0.5) / mask.shape[0]


def _refuse(frames: int, mask: NDArray[np.bool_], way: Way) -> None:
    _refuse_frames(frames, way)
    if mask.sum() < FEWEST:
        raise RequestError("There is too little of this region in the frame to follow it.", code="follow.small")
    if mask.mean() > MOST:
        raise RequestError("This region is nearly the whole frame: mark what is to be followed.", code="follow.large")


def _refuse_frames(frames: int, way: Way) -> None:
    first, last = way.frames
    if not 0 <= first <= way.at <= last < frames or not first <= way.start <= last:
        raise RequestError(f"This clip has frames 0 to {frames - 1}.", code="follow.frame")


def follow_region(
    frames: Frames,
    sheet: Sheet,
    region: str,
    way: Way,
    assets: Assets = NO_ASSETS,
    told: Told = lambda frame, step, share: True,
    keep: Keep | None = None,
    motions: Motions = no_motions,
) -> Motion:
    """Return the motion of a region, as it is marked at the reference frame; else as :func:`followed`.

    ``keep`` keeps the mattes of a shape that changes, without it none is followed as one; ``motions`` gives the one it
    has already, whose marks in other frames count.
    """
    found = region_called(sheet, region)
    if keep is not None and (way.kind == "shape" or (way.kind == "any" and changes(found))):
        return _as_shape(frames, sheet, found, way, assets, told, keep, motions)
    still = sheet_in_time(with_region(sheet, found.model_copy(update={"track": None})), way.at, no_motions)
    where = resolve(still, region)
    assert where is not None  # it was just found
    source = frames.source(way.at)
    scale = follow_scale(frames.clip.facts)
    mask = Engine(assets=assets).matte(source, where, source.full(scale)) > 0.5
    if way.kind == "set":
        # what it marks need not be seen: the camera's motion is read from all of the frame
        _refuse_frames(frames.clip.facts.frames, way)
        return _followed(frames.clip, mask, way, frames.key, told)
    if way.kind in ("any", "face"):
        _refuse(frames.clip.facts.frames, mask, way)
        face = marked_face(frames, mask, way, scale)
        if face is not None:
            return followed_face(frames, face, way, scale, _middle(mask), told)
        if way.kind == "face":
            raise no_face()
    return followed(frames.clip, mask, way, frames.key, told)


def changes(region: Region) -> bool:
    """Return whether a region is followed as a shape that changes, unless somebody says otherwise: it is cut out."""
    return any(part.on and part.kind == ROUGH.id for part in region.parts)


def _as_shape(
    frames: Frames,
    sheet: Sheet,
    region: Region,
    way: Way,
    assets: Assets,
    told: Told,
    keep: Keep,
    motions: Motions,
) -> Motion:
    facts = frames.clip.facts
    scale = min(ALPHA_SIDE / max(facts.width, facts.height), 1.0)
    engine = Engine(assets=assets)
    # what is done to a matte later is done in every frame
    plain = region.model_copy(update={"refine": {}})
    track = region.track or Track(motion="0" * 64, at=way.at)
    first, last = way.frames

    def matte(frame: int) -> Matte:
        own = plain if frame == way.at else plain.model_copy(update={"track": track})
        still = sheet_in_time(with_region(sheet, own), frame, no_motions if frame == way.at else motions)
        where = resolve(still, region.id)
        assert where is not None  # it is in the sheet
        source = frames.source(frame)
        return engine.matte(source, where, source.full(scale))

    # of a motion that is not to be had nobody knows what was corrected
    every = track.marks if motions(track.motion) else {}
    marked = {int(frame): strokes for frame, strokes in every.items() if strokes and first <= int(frame) <= last}
    keys = {way.at: matte(way.at), **{frame: matte(frame) for frame in marked if frame != way.at}}
    mask = keys[way.at] > 0.5
    _refuse(facts.frames, mask, way)
    marks = {frame: digest_of_marks(strokes) for frame, strokes in marked.items() if frame != way.at}
    return followed_shape(frames, scale, keys, marks, way, _middle(mask), keep, told)


def grey_at(clip: Clip | ClipPart, frame: int, size: tuple[int, int]) -> Codes:
    """Return a frame's luma, upright, at a size."""
    return _upright(luma_of(clip.picture(frame)), clip, size, cv2.INTER_AREA)


def codes_at(clip: Clip | ClipPart, frame: int, size: tuple[int, int]) -> Codes:
    """Return a frame's luma and two differences of colour, shape (H, W, 3), upright, at a size; of grey luma alone."""
    picture = clip.picture(frame)
    colours = colours_of(picture)
    luma = _upright(luma_of(picture), clip, size, cv2.INTER_AREA)
    if colours is None:
        return luma
    return np.dstack([luma, *(_upright(each, clip, size, cv2.INTER_LINEAR) for each in colours)])


def _upright(plane: Codes, clip: Clip | ClipPart, size: tuple[int, int], way: int) -> Codes:
    turned = np.ascontiguousarray(np.rot90(plane, clip.facts.turn // 90))
    return turned if turned.shape[::-1] == size else np.asarray(cv2.resize(turned, size, interpolation=way), np.uint8)


def _heights(lines: int) -> Matrix:
    """Return the map from pixels, whose centres are whole numbers, to picture heights."""
    return np.array([[1 / lines, 0, 0.5 / lines], [0, 1 / lines, 0.5 / lines], [0, 0, 1]])
