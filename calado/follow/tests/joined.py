"""Pieces of film with known cuts: by a procedure, from the demo's clips and from stills over which a camera goes."""

from functools import cache
from pathlib import Path

import cv2
import numpy as np

from calado.arrays import Codes
from calado.follow.cuts import small_grey
from calado.media.clips.clip import Clip
from calado.media.stills import read_still

DEMO = Path(__file__).parents[3] / "demo"


@cache
def clips() -> dict[str, list[Codes]]:
    """Return the demo's clips, each frame as small grey."""
    found = {}
    for path in sorted((DEMO / "clips").glob("*.mp4")):
        with Clip(path) as clip:
            found[path.stem] = [small_grey(clip.picture(k).planes[0]) for k in range(clip.facts.frames)]
    return found


@cache
def stills() -> dict[str, Codes]:
    """Return the demo's stills as grey codes."""
    found = {}
    for path in sorted((DEMO / "stills").glob("*.jpg")) or sorted((DEMO / "stills").glob("*.png")):
        samples = read_still(path).samples
        luma = np.tensordot(np.float32([0.2126, 0.7152, 0.0722]), samples.astype(np.float32), 1)
        scale = 255.0 / max(float(luma.max()), 1e-6)
        found[path.stem] = np.clip(luma * scale, 0, 255).astype(np.uint8)
    return found


def travelled(still: Codes, frames: int, rng: np.random.Generator) -> list[Codes]:
    """Return frames of a camera that pans, zooms and shakes over a still, in light that may change, with noise."""
    high, wide = still.shape
    size = (240, 136)
    x, y = rng.uniform(0.3, 0.7, 2) * (wide, high)
    step = rng.normal(0, 0.006, 2) * wide
    zoom, grows = rng.uniform(0.25, 0.7) * wide / size[0], rng.uniform(0.99, 1.01)
    gain, brighter = rng.uniform(0.5, 1.1), rng.uniform(0.985, 1.015)
    made = []
    for _ in range(frames):
        x, y, zoom, gain = x + step[0], y + step[1], zoom * grows, gain * brighter
        shake = rng.normal(0, 1.0, 2)
        corner = np.float32([x, y]) - zoom * np.float32(size) / 2 + shake
        matrix = np.float32([[zoom, 0, corner[0]], [0, zoom, corner[1]]])
        flags = cv2.INTER_AREA | cv2.WARP_INVERSE_MAP
        seen = cv2.warpAffine(still, matrix, size, flags=flags, borderMode=cv2.BORDER_REFLECT)
        seen = cv2.GaussianBlur(seen, (0, 0), 0.7) * gain + rng.normal(0, 2.0, seen.shape)
        made.append(np.clip(seen, 0, 255).astype(np.uint8))
    return made


def film(seed: int) -> tuple[list[Codes], list[int]]:
    """Return frames and the numbers of those with which another shot begins; flashes and short shots among them."""
    rng = np.random.default_rng(seed)
    frames: list[Codes] = []
    cuts: list[int] = []
    sources = rng.permutation(len(clips()) + len(stills()))[: int(rng.integers(3, 7))]
    for source in sources:
        length = int(rng.integers(8, 40))
        if source < len(clips()):
            whole = list(clips().values())[source]
            first = int(rng.integers(0, max(len(whole) - length, 1)))
            taken = whole[first : first + length]
            piece = [cv2.resize(each, (240, 136), interpolation=cv2.INTER_AREA) for each in taken]
        else:
            piece = travelled(list(stills().values())[source - len(clips())], length, rng)
        if len(piece) > 12 and rng.random() < 0.4:
            # a flash of one or two frames, never at a border
            at = int(rng.integers(4, len(piece) - 6))
            for k in range(at, at + int(rng.integers(1, 3))):
                piece[k] = np.clip(piece[k] * 0.1 + 225, 0, 255).astype(np.uint8)
        if frames:
            cuts.append(len(frames))
        frames += piece
    return frames, cuts
