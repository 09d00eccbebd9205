"""How well faces and lettering along a clip are told apart: made clips by seeds, and the demo's own."""

from collections import Counter
from pathlib import Path
from time import process_time

import cv2
import numpy as np

from calado.detect.faces import find_faces
from calado.detect.find import face_offer
from calado.follow.sightings import Sightings, Thing
from calado.follow.tests.passing import FRAMES, SIZE, Head, passing
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.sighted import sighted
from calado.render.engine import Engine

SEEDS = range(1, 13)
EVERY = 6
CLIPS = Path(__file__).resolve().parents[1] / "demo" / "clips"
#: of the demo's clips, the faces and the lines that each has
DEMO = {"walk": (1, 0), "push": (0, 0), "swing": (1, 12)}

HEAD = f"""
**Along a clip** (`calado/follow/sightings.py`): faces and lines of lettering listed once each. Passing: three heads of
the demo go through a still of {SIZE[0]} × {SIZE[1]}, behind a post and out of the frame, {FRAMES} frames, looked at
every {EVERY}th, seeds {SEEDS[0]} to {SEEDS[-1]}. Mixed: a thing whose finds are of two faces; split: a face that is
listed more than once.

| | listed, of how many | mixed | split | none at all | listed, doubtful | CPU s a look · ms a frame between |
|---|---|---|---|---|---|---|
"""


def whose(thing: Thing, heads: dict[int, list[Head]]) -> Counter[str]:
    """Return how often a thing's sightings are on each head, or on none."""
    counted: Counter[str] = Counter()
    for frame, offer in thing.sightings:
        x, y = ((offer.box[k] + offer.box[k + 2] / 2) * SIZE[1] for k in (0, 1))
        near = min(heads[frame], key=lambda head: np.hypot(head.x - x, head.y - y))
        counted[near.name if np.hypot(near.x - x, near.y - y) < 0.75 * near.tall else ""] += 1
    return counted


def _passing() -> str:
    listed, of, mixed, split, none, doubtful = 0, 0, 0, 0, 0, 0
    looks, between = [], []
    for seed in SEEDS:
        found, heads = Sightings(SIZE[0] / SIZE[1]), {}
        for frame, (codes, shown) in enumerate(passing(seed)):
            heads[frame] = shown
            began = process_time()
            found.carry(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY))
            between.append(1000 * (process_time() - began))
            if frame % EVERY == 0:
                began = process_time()
                found.look(frame, codes, list(map(face_offer, find_faces(codes))), "face")
                looks.append(process_time() - began)
        names = {head.name for frame in range(0, FRAMES, EVERY) for head in heads[frame] if head.shows > 0.95}
        things = found.things()
        own = [set(whose(thing, heads)) for thing in things if thing.sure]
        doubtful += sum(not thing.sure for thing in things)
        mixed += sum(len(each - {""}) > 1 for each in own)
        none += sum(each == {""} for each in own)
        counted = Counter(name for each in own for name in each - {""})
        split += sum(count - 1 for count in counted.values())
        listed, of = listed + len(names & set(counted)), of + len(names)
    took = f"{np.median(looks):.1f} · {np.median(between):.0f}"
    return f"| passing, {len(SEEDS)} clips | {listed} of {of} | {mixed} | {split} | {none} | {doubtful} | {took} |"


def _demo(name: str) -> str:
    with Clip(CLIPS / f"{name}.mp4") as clip:
        found = sighted(Frames(clip, name), Engine())
    sure = Counter(thing.kind for thing in found.things if thing.sure)
    faces, lines = DEMO[name]
    said = f"{sure['face']} face of {faces}, {sure['text']} lines of {lines}"
    return f"| `{name}`, every {found.every}th | {said} | | | | {sum(not each.sure for each in found.things)} | |"


def table() -> str:
    """Return the table, with its head."""
    return HEAD + "\n".join([_passing(), *map(_demo, DEMO)]) + "\n"


if __name__ == "__main__":
    print(table())
