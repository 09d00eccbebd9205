"""How well following follows: every plan of the made clips over stated seeds, and what is true of the demo's clips.

``python -m benchmarks.following`` (``make quality``) writes the table to ``docs/quality.md``: median and worst, nothing
left out. *Shown*: the thing is to be seen. *Lost*: shown, and not found, or a corner off by more than 8 pixels.
"""

import json
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from time import process_time

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks import cameras, faces, features, figures, focus, found_faces, lettering, roughs, shapes, sightings
from calado.arrays import Codes, Floats
from calado.follow.fits import carried
from calado.follow.margin import margin_of
from calado.follow.motion import Step
from calado.follow.planar import Planar
from calado.follow.tests.moving import Clip as MadeClip
from calado.follow.tests.moving import Plan, mixed
from calado.media.clips.clip import Clip
from calado.media.clips.following import codes_at

ROOT = Path(__file__).parent.parent
OUT = ROOT / "docs" / "quality.md"
SEEDS, MIXED = range(1, 5), range(1, 13)
FRAMES, SIZE = 48, (1280, 720)
LOST = 8.0
#: confidence from which on a frame is not open, and the share of what shows that a cover must hide then
SURE, HIDES = 0.5, 0.999
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
    "no texture, another colour": Plan(spread=1, noise=2, colour=(150, 96)),
    "all of it": Plan(way=(500, 100), scale=1.6, turn=60, tilt=25, noise=6, light=0.8, hidden=range(20, 28)),
}


HEAD = f"""# Quality

**Following** (`calado/follow/planar.py`), written by `make quality`: a card of 120 px in {SIZE[0]} × {SIZE[1]},
{FRAMES} frames, seeds {SEEDS[0]} to {SEEDS[-1]} of each plan (`calado/follow/tests/moving.py`), and what is true of the
demo's clip that swings. Marked in frame 0, never corrected. Lost: to be seen, and not found or a corner off by more
than {LOST:.0f} px. Sure: above 80 %; doubtful: below 50 %. Bare: of a cover over it, grown as covers are
(`calado/follow/margin.py`), frames from 50 % on in which more than a thousandth of what shows, smear and all, lies
beside the cover; extra: by how much more than the thing itself it covers, median.

| | corners, median px | worst px | lost frames | off among sure | off or gone among doubtful | bare | extra | CPU ms |
|---|---|---|---|---|---|---|---|---|
"""


@dataclass
class Seen:
    """What came of some frames: of each how sure, whether found, whether shown, and by how much its corners are off."""

    sure: list[float]
    on: list[bool]
    shown: list[bool]
    off: list[float]
    #: share of what shows that a cover hides, and how much more than the thing it covers; only where it is not open
    hid: list[float]
    extra: list[float]
    seconds: float


def followed(
    frames: list[Codes],
    mask: NDArray[np.bool_],
    truths: list[NDArray[np.float64] | None],
    shown: Callable[[int], Floats],
) -> Seen:
    """Follow what a mask shows in the first frame; ``truths`` are its corners, None where it is not to be seen.

    ``shown(frame)`` is how much of each pixel shows it.
    """
    first = truths[0]
    assert first is not None
    seen = Seen([], [], [], [], [], [], 0.0)
    began = process_time()
    follower = Planar(frames[0], mask)
    seen.seconds = process_time() - began
    for number, (codes, truth) in enumerate(zip(frames[1:], truths[1:], strict=True), start=1):
        began = process_time()
        found = follower.step(codes)
        seen.seconds += process_time() - began
        seen.sure.append(found.confidence)
        seen.on.append(found.state == "on")
        seen.shown.append(truth is not None)
        off = np.inf if truth is None else float(np.linalg.norm(carried(found.matrix, first) - truth, axis=1).max())
        seen.off.append(off)
        if found.state == "on" and found.confidence >= SURE and truth is not None:
            high = mask.shape[0]
            grown = high * margin_of(Step(found.matrix, found.confidence, smear=found.smear / high), "perspective")
            laid = cv2.warpPerspective(mask.astype(np.uint8), found.matrix, mask.shape[::-1])
            cover = cv2.distanceTransform(1 - laid, cv2.DIST_L2, 5) <= grown
            true = shown(number)
            seen.hid.append(float(true[cover].sum()) / max(float(true.sum()), 1e-6))
            seen.extra.append(float(cover.sum()) / max(polygon_area(truth), 1.0) - 1)
    return seen


def polygon_area(corners: NDArray[np.float64]) -> float:
    """Return the area of a polygon, in pixels."""
    return float(cv2.contourArea(corners.astype(np.float32)))


def made(plan: Plan, seed: int) -> Seen:
    """Follow the card of a made clip."""
    clip = MadeClip(plan, seed, FRAMES, SIZE)
    frames = list(clip.frames())
    gone = {*plan.hidden, *plan.elsewhere}
    corners = [None if n in gone else carried(each.matrix, clip.corners) for n, each in enumerate(frames)]
    return followed([each.codes for each in frames], clip.card, corners, clip.seen)


def swinging() -> Iterator[tuple[str, Seen]]:
    """Follow the plate and the lines of the demo's clip that swings."""
    told = json.loads((ROOT / "demo" / "truth" / "truth.json").read_text())["clips"]["swing"]["frames"]
    with Clip(ROOT / "demo" / "clips" / "swing.mp4") as clip:
        size = clip.facts.width, clip.facts.height
        frames = [codes_at(clip, n, size) for n in range(len(told))]
    lines = {f"swing, line {k + 1}": [each["lines"][k]["polygon"] for each in told] for k in range(4)}
    for name, polygons in {"swing, plate": [each["plate"]["polygon"] for each in told], **lines}.items():
        # the truth's pixels have their centres at .5
        truths: list[NDArray[np.float64] | None] = [np.array(each) - 0.5 for each in polygons]

        def shown(number: int, truths: list[NDArray[np.float64] | None] = truths) -> Floats:
            filled = np.zeros(frames[0].shape[:2], np.uint8)
            cv2.fillPoly(filled, [np.int32(np.rint(truths[number]))], 1)
            return filled.astype(np.float32)

        yield name, followed(frames, shown(0) > 0, truths, shown)


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
    hid, extra = all_of("hid"), all_of("extra")
    share = lambda part: f"{100 * part.mean():.0f} % of {len(part)}" if len(part) else "–"  # noqa: E731
    return (
        f"| {name} | {np.median(kept):.2f} | {kept.max():.2f} | {lost} of {int(shown.sum())} |"
        f" {share(wrong[surely])} | {share(wrong[doubted])} | {int((hid < HIDES).sum())} of {len(hid)} |"
        f" {100 * np.median(extra):.0f} % | {ms:.0f} |"
    )


def main() -> None:
    """Write the table."""
    cv2.setNumThreads(1)
    found = {name: [made(plan, seed) for seed in SEEDS] for name, plan in PLANS.items()}
    found[f"mixed, seeds {MIXED[0]} to {MIXED[-1]}"] = [made(mixed(seed, FRAMES), seed) for seed in MIXED]
    found |= {name: [seen] for name, seen in swinging()}
    rows = [row(name, every) for name, every in found.items()]
    further = "".join(
        each.table()
        for each in (cameras, faces, shapes, found_faces, features, figures, lettering, sightings, roughs, focus)
    )
    OUT.write_text(HEAD + "\n".join(rows) + "\n" + further)
    print(OUT.read_text())


if __name__ == "__main__":
    main()
