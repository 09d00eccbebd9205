"""How well a shape is cut out along a clip: the demo's walk and its lantern, from the true matte of one frame."""

from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from time import process_time

import cv2
import numpy as np

from calado.arrays import Matte
from calado.follow.motion import Motion
from calado.media.clips.clip import Clip
from calado.media.clips.following_shapes import followed_shape
from calado.media.clips.frames import Frames
from calado.media.clips.way import Way
from calado.media.mattes import folder_sums, store_matte
from calado.region.solve.rough import ALPHA_SIDE, solving_window

DEMO = Path(__file__).parent.parent / "demo"
#: clip, what the truth calls the shape, and frames whose matte is given; several in brackets are given together
CASES = (
    ("walk", "puppet", (0,)),
    ("walk", "puppet", (36,)),
    ("walk", "puppet", (72,)),
    ("walk", "puppet", (108,)),
    ("walk", "puppet", (0, 24, 72, 108)),
    ("push", "lantern", (0,)),
)
#: of the largest true matte, from which on it counts as shown; shares below OFF are off
SHOWN, OFF = 0.03, 0.7

HEAD = f"""
**Shapes cut out** (`calado/follow/shape.py`): the true matte of the frames named is given, nothing is corrected; of the
walk the whole clip, in which the puppet goes behind a pillar, out of the frame, and comes back mirrored. Held against
the true mattes of every fourth frame: the sum of the lesser values over that of the greater. Shown: from
{100 * SHOWN:.0f} % of the largest matte. Off: less than {OFF} shared. Sure: above 80 %; doubtful: below 50 %.

| clip, shape | given | shared, median | worst of the sure | worst | off among sure | off among doubtful | ms a frame |
|---|---|---|---|---|---|---|---|
"""


@dataclass(frozen=True)
class Case:
    """A clip and a shape in it."""

    clip: str
    what: str

    def truth(self, frame: int, size: tuple[int, int]) -> Matte | None:
        """Return the true matte of a frame at a size (W, H), if there is one."""
        file = DEMO / "truth" / self.clip / f"{self.what}_{frame:03}.png"
        codes = cv2.imread(str(file), cv2.IMREAD_GRAYSCALE) if file.exists() else None
        if codes is None:
            return None
        return np.asarray(cv2.resize(codes.astype(np.float32) / 255, size, interpolation=cv2.INTER_AREA), np.float32)


def row(clip: str, what: str, given: tuple[int, ...]) -> str:
    """Return a line of the table."""
    case = Case(clip, what)
    with TemporaryDirectory() as held, Clip(DEMO / "clips" / f"{clip}.mp4") as opened:
        folder, frames = Path(held), Frames(opened, clip)
        window = solving_window(frames.source(0).full(), ALPHA_SIDE)
        size = window.width, window.height
        keys = {frame: matte for frame in given if (matte := case.truth(frame, size)) is not None}
        way = Way(given[0], (0, opened.facts.frames - 1))
        began = process_time()
        motion = followed_shape(
            frames,
            window.scale,
            keys,
            {},
            way,
            (0.5, 0.5),
            lambda codes: store_matte(codes, folder),
            lambda frame, step, share: True,
        )
        ms = 1000 * (process_time() - began) / opened.facts.frames
        shares = _shares(case, motion, set(given), folder, size)
    every = np.array([share for share, _ in shares])
    sure = [share for share, sureness in shares if sureness > 0.8]
    doubted = [share for share, sureness in shares if sureness < 0.5]
    off = lambda part: f"{sum(each < OFF for each in part)} of {len(part)}"  # noqa: E731
    named = ", ".join(map(str, given))
    return (
        f"| {clip}, {what} | {named} | {np.median(every):.2f} | {min(sure):.2f} | {every.min():.2f} |"
        f" {off(sure)} | {off(doubted)} | {ms:.0f} |"
    )


def _shares(
    case: Case, motion: Motion, given: set[int], folder: Path, size: tuple[int, int]
) -> list[tuple[float, float]]:
    """Return of each frame that has a truth how much is shared, and how sure it was."""
    truths = {frame: true for frame in motion.steps if (true := case.truth(frame, size)) is not None}
    largest = max(float(true.sum()) for true in truths.values())
    sums, made = folder_sums(folder), []
    for frame, true in truths.items():
        if frame in given or true.sum() < SHOWN * largest:
            continue
        step = motion.steps[frame]
        matte = np.diff(np.diff(sums(step.matte), axis=0), axis=1)
        made.append((float(np.minimum(matte, true).sum() / np.maximum(matte, true).sum()), step.sureness))
    return made


def table() -> str:
    """Return the table, with its head."""
    return HEAD + "\n".join(row(*case) for case in CASES) + "\n"
