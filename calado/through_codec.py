"""What a codec does to a finished clip: a short stretch is encoded as it would be exported, and read back.

Two figures tell what is lost first. Grain: how much of the variance of fine detail is left where the picture is
otherwise even. Steps: how much of the soft slopes, as in a vignette or a sky, lies in flat steps (all codes of a square
of five pixels the same). Both are taken on luma, in codes of 8 bits (our definitions; no standard has either).
"""

import json
import tempfile
from dataclasses import dataclass
from pathlib import Path

import cv2
import imagecodecs
import numpy as np

from calado.arrays import Codes, Floats
from calado.clip_chunks import cut_to, stored_size
from calado.clip_export import CHUNK
from calado.clip_render import ClipOrder, Rendering, clears
from calado.errors import RequestError
from calado.export import EXPORT_CACHE_BYTES
from calado.media.clips.clip import Clip
from calado.media.clips.convert import to_linear
from calado.media.clips.facts import Tags
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames, upright
from calado.media.clips.planes import Picture
from calado.media.clips.tags import space_of
from calado.media.clips.write import picture_writer
from calado.region.solve.matting_store import SolvedStore
from calado.render.assets import NO_ASSETS, Assets
from calado.render.encode import screen_codes
from calado.render.engine import Engine, new_secret

#: pixels that are rendered for it, at most a second and never fewer frames than an encoder looks ahead for
ROOM, FEWEST = 24 * 1280 * 720, 9
#: fine detail: what a Gaussian of this many pixels takes away
FINE = 1.5
#: where the smoothed picture changes by less than so many codes a pixel grain is looked at
EVEN = 1.0
#: a slope is soft between so many codes a pixel: less is flat, more shows no steps
SOFT = (0.01, 0.5)
#: variance of fine detail, in codes squared, below which there is no grain to lose
LEAST_GRAIN = 0.3
#: a share of the picture below which a figure would be of next to nothing
LEAST_AREA = 0.005


@dataclass(frozen=True, eq=False)
class Through:
    """A frame before and after a codec, shape (H, W, 3) as on the screen, over ``frames`` that were encoded.

    ``grain`` is the share of its variance that is left, None where there is none; ``steps`` the share of soft slopes in
    flat steps before and after, None where nothing is soft; ``bits`` a second, with no sound.
    """

    before: Codes
    after: Codes
    frames: int
    grain: float | None
    steps: tuple[float, float] | None
    bits: float

    def told(self) -> str:
        """Return the figures as JSON."""
        return json.dumps({"frames": self.frames, "grain": self.grain, "steps": self.steps, "bits": self.bits})


def through_codec(
    frames: Frames,
    order: ClipOrder,
    frame: int,
    target: ClipTarget,
    assets: Assets = NO_ASSETS,
    solved: SolvedStore | None = None,
) -> Through:
    """Return a frame as it is finished and as it is after the codec, with up to a second around it encoded.

    Raises
    ------
    MediaError
        when the clip cannot be read or written.
    RequestError
        when there is no such frame.
    """
    facts = frames.clip.facts
    if not 0 <= frame < facts.frames:
        raise RequestError(f"This clip has frames 0 to {facts.frames - 1}.", code="render.frame")
    count = int(min(max(ROOM // (facts.width * facts.height), FEWEST), np.ceil(float(facts.rate)), facts.frames, CHUNK))
    first = min(max(frame - count // 2, 0), facts.frames - count)
    came = frames.clip.picture(first).layout
    layout, pixels = target.kind.layout_for(came, alpha=came.alpha or clears(order))
    rendering = Rendering(frames, order, Engine(EXPORT_CACHE_BYTES, assets, solved, new_secret()), layout)
    size = stored_size(facts, target)
    with tempfile.TemporaryDirectory() as held:
        out = Path(held) / f"through.{target.kind.suffix}"
        with picture_writer(out, facts, size, target, pixels) as writer:
            for each in range(first, first + count):
                picture = cut_to(rendering.picture(each), size)
                if each == frame:
                    before = picture
                writer.write(picture)
        bits = 8 * out.stat().st_size / count * float(facts.rate)
        with Clip(out) as made:
            after = made.picture(frame - first)
    return Through(
        _shown(before, facts.tags, facts.turn),
        _shown(after, facts.tags, facts.turn),
        count,
        grain_left(_luma(before), _luma(after)),
        stepped(_luma(before), _luma(after)),
        bits,
    )


def beside(made: Through, middle: tuple[float, float], size: tuple[int, int]) -> bytes:
    """Return a piece of the frame, and right of it the same after the codec, as one PNG; ``middle`` in pixels."""
    high, wide = made.before.shape[:2]
    width, height = min(size[0], wide), min(size[1], high)
    left = int(np.clip(round(middle[0] - width / 2), 0, wide - width))
    top = int(np.clip(round(middle[1] - height / 2), 0, high - height))
    piece = slice(top, top + height), slice(left, left + width)
    both = np.concatenate([made.before[piece], made.after[piece]], axis=1)
    return bytes(imagecodecs.png_encode(np.ascontiguousarray(both), level=1))


def _shown(picture: Picture, tags: Tags, turn: int) -> Codes:
    return screen_codes(upright(to_linear(picture, tags), turn), space_of(tags))


def _luma(picture: Picture) -> Floats:
    """Return luma in codes of 8 bits; of red, green and blue the green."""
    plane = picture.planes[1 if picture.layout.kind == "rgb" else 0]
    return plane.astype(np.float32) / np.float32(1 << (picture.layout.bits - 8))


def grain_left(before: Floats, after: Floats) -> float | None:
    """Return the share of the variance of fine detail that is left where the picture is even, None if there is none.

    ``before`` and ``after`` are luma, shape (H, W).
    """
    even = _slope(_blurred(before, 4 * FINE)) < EVEN
    if even.mean() < LEAST_AREA:
        return None
    had, has = (float((each - _blurred(each, FINE))[even].var()) for each in (before, after))
    return min(has / had, 1.0) if had > LEAST_GRAIN else None


def stepped(before: Floats, after: Floats) -> tuple[float, float] | None:
    """Return the share of soft slopes that lies in flat steps, before and after; None where nothing is soft."""
    slope = _slope(_blurred(before, 8 * FINE))
    soft = (slope > SOFT[0]) & (slope < SOFT[1])
    if soft.mean() < LEAST_AREA:
        return None
    square = np.ones((5, 5), np.uint8)
    flat = [cv2.dilate(each, square) - cv2.erode(each, square) == 0 for each in (before, after)]
    return float(flat[0][soft].mean()), float(flat[1][soft].mean())


def _blurred(luma: Floats, sigma: float) -> Floats:
    return np.asarray(cv2.GaussianBlur(luma, (0, 0), sigma), np.float32)


def _slope(luma: Floats) -> Floats:
    rows, columns = np.gradient(luma)
    return np.asarray(np.hypot(rows, columns), np.float32)
