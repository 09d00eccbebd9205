"""How well a face is followed: the demo's walk, marked by its true box in every twelfth frame that shows all of it."""

from time import process_time

import numpy as np

from calado.follow.carried import SURE
from calado.media.clips.clip import Clip
from calado.media.clips.following import follow_region
from calado.media.clips.frames import Frames
from calado.media.clips.tests.test_following_faces import CLIP, box_at, marked, shared, shown, told, true_box
from calado.media.clips.way import Way
from calado.sheet.models import Sheet

EVERY = 12
#: a box that shares less than this with the true one is off
OFF = 0.7

HEAD = f"""
**Faces** (`calado/follow/faces.py`): the demo's walk, the true box marked in each frame named, never corrected. Shared
is the area of both boxes over that of either. Shown: more than half of the face is to be seen. Off: less than {OFF}
shared. Sure: above 80 %; doubtful: below 50 %; kept: from 50 % on; ghosts: kept where nothing of it is to be seen.

| marked in | kept of those shown | shared, median | worst | off among sure | off among doubtful | ghosts | ms a frame |
|---|---|---|---|---|---|---|---|
"""


def row(at: int) -> str:
    """Return a line of the table."""
    count = len(told())
    began = process_time()
    with Clip(CLIP) as clip:
        region = marked(true_box(at))
        motion = follow_region(Frames(clip, "walk"), Sheet(regions=(region,)), "r", Way(at, (0, count - 1)))
    ms = 1000 * (process_time() - began) / count
    seen = [frame for frame in range(count) if shown(frame) > 0.5 and frame != at]
    shares = {frame: shared(box_at(region, motion, at, frame), true_box(frame)) for frame in seen}
    sure = [frame for frame in seen if motion.near(frame).sureness >= SURE]
    surely = [shares[frame] for frame in seen if motion.near(frame).sureness > 0.8]
    doubted = [shares[frame] for frame in seen if motion.near(frame).sureness < SURE]
    ghosts = sum(motion.near(frame).sureness >= SURE for frame in range(count) if shown(frame) < 0.1)
    off = lambda part: f"{sum(each < OFF for each in part)} of {len(part)}"  # noqa: E731
    kept = [shares[frame] for frame in sure]
    return (
        f"| {at} | {len(sure)} of {len(seen)} | {np.median(kept):.2f} | {min(kept):.2f} |"
        f" {off(surely)} | {off(doubted)} | {ghosts} | {ms:.0f} |"
    )


def table() -> str:
    """Return the table, with its head."""
    whole = [frame for frame in range(0, len(told()), EVERY) if shown(frame) > 0.999]
    return HEAD + "\n".join(row(at) for at in whole) + "\n"
