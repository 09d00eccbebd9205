"""A region followed through a clip: its frames read in order, each way from where it begins."""

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.arrays import Codes
from calado.errors import RequestError
from calado.follow.carried import sheet_in_time
from calado.follow.fits import Kind, Matrix
from calado.follow.motion import Motion, Step, no_motions
from calado.follow.planar import Planar
from calado.media.clips.clip import Clip
from calado.media.clips.facts import ClipFacts
from calado.media.clips.following_faces import followed_face, marked_face, no_face
from calado.media.clips.frames import Frames
from calado.media.clips.part import ClipPart
from calado.media.clips.shots import luma_of
from calado.media.clips.way import Told, Way
from calado.render.assets import NO_ASSETS, Assets
from calado.render.engine import Engine
from calado.render.resolve import resolve
from calado.sheet.models import Sheet
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
    high, wide = mask.shape
    size = wide, high
    to_heights = _heights(high)
    to_pixels = np.linalg.inv(to_heights)
    reference = _grey(clip, way.at, size)
    kind: Kind = "perspective" if way.kind == "any" or way.kind == "face" else way.kind  # for types
    known = way.known.steps if way.known else {}
    motion = Motion(name, way.at, _middle(mask), {**known, way.at: Step(np.eye(3), 1.0)}, kind)
    ways = way.ways
    count = sum(len(each) for each in ways)
    done = 0
    for each in ways:
        follower = Planar(reference, mask, kind)
        if way.matrix is not None:
            follower.go_on(_grey(clip, way.start, size), to_pixels @ way.matrix @ to_heights)
            motion = motion.with_step(way.start, Step(way.matrix / way.matrix[2, 2], 1.0))
        motion = motion.without(each)
        for frame in each:
            found = follower.step(_grey(clip, frame, size))
            matrix = to_heights @ found.matrix @ to_pixels
            step = Step(matrix / matrix[2, 2], found.confidence, found.state)
            motion = motion.with_step(frame, step)
            done += 1
            if not told(frame, step, done / count):
                return motion
    return motion


def _middle(mask: NDArray[np.bool_]) -> tuple[float, float]:
    """Return the middle of a region in picture heights."""
    y, x = np.nonzero(mask)
    return float(x.mean() + 0.5) / mask.shape[0], float(y.mean() + 0.5) / mask.shape[0]


def _refuse(frames: int, mask: NDArray[np.bool_], way: Way) -> None:
    first, last = way.frames
    if not 0 <= first <= way.at <= last < frames or not first <= way.start <= last:
        raise RequestError(f"This clip has frames 0 to {frames - 1}.", code="follow.frame")
    if mask.sum() < FEWEST:
        raise RequestError("There is too little of this region in the frame to follow it.", code="follow.small")
    if mask.mean() > MOST:
        raise RequestError("This region is nearly the whole frame: mark what is to be followed.", code="follow.large")


def follow_region(
    frames: Frames,
    sheet: Sheet,
    region: str,
    way: Way,
    assets: Assets = NO_ASSETS,
    told: Told = lambda frame, step, share: True,
) -> Motion:
    """Return the motion of a region, as it is marked at the reference frame; else as :func:`followed`."""
    found = region_called(sheet, region)
    still = sheet_in_time(with_region(sheet, found.model_copy(update={"track": None})), way.at, no_motions)
    where = resolve(still, region)
    assert where is not None  # it was just found
    source = frames.source(way.at)
    scale = follow_scale(frames.clip.facts)
    mask = Engine(assets=assets).matte(source, where, source.full(scale)) > 0.5
    if way.kind in ("any", "face"):
        _refuse(frames.clip.facts.frames, mask, way)
        face = marked_face(frames, mask, way, scale)
        if face is not None:
            return followed_face(frames, face, way, scale, _middle(mask), told)
        if way.kind == "face":
            raise no_face()
    return followed(frames.clip, mask, way, frames.key, told)


def _grey(clip: Clip | ClipPart, frame: int, size: tuple[int, int]) -> Codes:
    """Return a frame's luma, upright, at a size."""
    luma = np.rot90(luma_of(clip.picture(frame)), clip.facts.turn // 90)
    if luma.shape[::-1] == size:
        return np.ascontiguousarray(luma)
    return np.asarray(cv2.resize(np.ascontiguousarray(luma), size, interpolation=cv2.INTER_AREA), np.uint8)


def _heights(lines: int) -> Matrix:
    """Return the map from pixels, whose centres are whole numbers, to picture heights."""
    return np.array([[1 / lines, 0, 0.5 / lines], [0, 1 / lines, 0.5 / lines], [0, 0, 1]])
