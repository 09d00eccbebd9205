"""How well following follows: every plan of the made clips over stated seeds, and what is true of the demo's clips.

``python -m benchmarks.following`` (``make quality``) writes the table to ``docs/quality.md``: median and worst, nothing
left out. *Shown*: the thing is to be seen. *Lost*: shown, and not found, or a corner off by more than 8 pixels.
"""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from time import process_time

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks import cameras, faces, figures, focus, found_faces, lettering, roughs, shapes, sightings
from calado.arrays import Codes
from calado.follow.fits import carried
from calado.follow.planar import Planar
from calado.follow.tests.moving import Clip as MadeClip
from calado.follow.tests.moving import Plan, mixed
from calado.media.clips.clip import Clip
from calado.media.clips.shots import luma_of

ROOT = Path(__file__).parent.parent
OUT = ROOT / "docs" / "quality.md"
SEEDS, MIXED = range(1, 5), range(1, 13)
FRAMES, SIZE = 48, (1280, 720)
LOST = 8.0
PLANS = {
    "goes": Plan(way=(420, 120)),
    "fast, 40 px a frame": Plan(way=(800, 150), noise=2),
    "larger, × 2.5": Plan(scale=2.5, way=(200, 60)),
    "smaller, × 0.4": Plan(scale=0.4),
    "turned by 200°": Plan(turn=200),
    "tilted by 50°": Plan(tilt=50),
    "noise of 12 codes": Plan(noise=12),
    "light by 1.2 stops": Plan(light=1.2),
    "behind something": Plan(hidden=range(16, 26)),
    "another shot between": Plan(elsewhere=range(16, 26)),
    "blurred by half a frame": Plan(way=(700, 100), shutter=0.5),
    "hardly any texture": Plan(spread=8, noise=2),
    "all of it": Plan(way=(500, 100), scale=1.6, turn=60, tilt=25, noise=6, light=0.8, hidden=range(20, 28)),
}


HEAD = f"""# Quality

**Following** (`calado/follow/planar.py`), written by `make quality`: a card of 120 px in {SIZE[0]} × {SIZE[1]},
{FRAMES} frames, seeds {SEEDS[0]} to {SEEDS[-1]} of each plan (`calado/follow/tests/moving.py`), and what is true of the
demo's clip that swings. Marked in frame 0, never corrected. Lost: to be seen, and not found or a corner off by more
than {LOST:.0f} px. Sure: above 80 %; doubtful: below 50 %.

| | corners, median px | worst px | lost frames | off among sure | off or gone among doubtful | CPU ms a frame |
|---|---|---|---|---|---|---|
"""


@dataclass
class Seen:
    """What came of some frames: of each how sure, whether found, whether shown, and by how much its corners are off."""

    sure: list[float]
    on: list[bool]
    shown: list[bool]
    off: list[float]
    seconds: float


def followed(frames: list[Codes], mask: NDArray[np.bool_], truths: list[NDArray[np.float64] | None]) -> Seen:
    """Follow what a mask shows in the first frame; ``truths`` are its corners, None where it is not to be seen."""
    first = truths[0]
    assert first is not None
    seen = Seen([], [], [], [], 0.0)
    began = process_time()
    follower = Planar(frames[0], mask)
    for grey, truth in zip(frames[1:], truths[1:], strict=True):
        found = follower.step(grey)
        seen.sure.append(found.confidence)
        seen.on.append(found.state == "on")
        seen.shown.append(truth is not None)
        off = np.inf if truth is None else float(np.linalg.norm(carried(found.matrix, first) - truth, axis=1).max())
        seen.off.append(off)
    seen.seconds = process_time() - began
    return seen


def made(plan: Plan, seed: int) -> Seen:
    """Follow the card of a made clip."""
    clip = MadeClip(plan, seed, FRAMES, SIZE)
    frames = list(clip.frames())
    gone = {*plan.hidden, *plan.elsewhere}
    corners = [None if n in gone else carried(each.matrix, clip.corners) for n, each in enumerate(frames)]
    return followed([each.grey for each in frames], clip.card, corners)


def swinging() -> Iterator[tuple[str, Seen]]:
    """Follow the plate and the lines of the demo's clip that swings."""
    told = json.loads((ROOT / "demo" / "truth" / "truth.json").read_text())["clips"]["swing"]["frames"]
    with Clip(ROOT / "demo" / "clips" / "swing.mp4") as clip:
        frames = [luma_of(clip.picture(n)) for n in range(len(told))]
    lines = {f"swing, line {k + 1}": [each["lines"][k]["polygon"] for each in told] for k in range(4)}
    for name, polygons in {"swing, plate": [each["plate"]["polygon"] for each in told], **lines}.items():
        # the truth's pixels have their centres at .5
        truths: list[NDArray[np.float64] | None] = [np.array(each) - 0.5 for each in polygons]
        mask = np.zeros(frames[0].shape, np.uint8)
        cv2.fillPoly(mask, [np.int32(np.rint(np.array(polygons[0]) - 0.5))], 1)
        yield name, followed(frames, mask > 0, truths)


def row(name: str, every: list[Seen]) -> str:
    """Return a line of the table."""
    all_of = lambda what: np.array([each for seen in every for each in getattr(seen, what)])  # noqa: E731
    off, on, shown, sure = all_of("off"), all_of("on"), all_of("shown"), all_of("sure")
    kept = off[on & shown]
    lost = int((shown & (~on | (off > LOST))).sum())
    wrong = ~shown | (off > LOST)
    surely = (sure > 0.8) & on
    doubted = sure < 0.5
    ms = 1000 * sum(seen.seconds for seen in every) / len(off)
    share = lambda part: f"{100 * part.mean():.0f} % of {len(part)}" if len(part) else "–"  # noqa: E731
    return (
        f"| {name} | {np.median(kept):.2f} | {kept.max():.2f} | {lost} of {int(shown.sum())} |"
        f" {share(wrong[surely])} | {share(wrong[doubted])} | {ms:.0f} |"
    )


def main() -> None:
    """Write the table."""
    cv2.setNumThreads(1)
    found = {name: [made(plan, seed) for seed in SEEDS] for name, plan in PLANS.items()}
    found[f"mixed, seeds {MIXED[0]} to {MIXED[-1]}"] = [made(mixed(seed, FRAMES), seed) for seed in MIXED]
    found |= {name: [seen] for name, seen in swinging()}
    rows = [row(name, every) for name, every in found.items()]
    further = "".join(
        each.table() for each in (cameras, faces, shapes, found_faces, figures, lettering, sightings, roughs, focus)
    )
    OUT.write_text(HEAD + "\n".join(rows) + "\n" + further)
    print(OUT.read_text())


if __name__ == "__main__":
    main()
