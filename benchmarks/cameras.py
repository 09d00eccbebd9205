"""How well the camera's own motion is read, on made takes of which everything is known."""

from time import process_time

import numpy as np

from calado.follow.camera import Camera
from calado.follow.tests.filmed import TAKES, Film, Take, off_at_corners

SEEDS, FRAMES, SIZE = range(1, 4), 48, (1280, 720)
OFF = 3.0

HEAD = f"""
**The camera's own motion** (`calado/follow/camera.py`): made takes in {SIZE[0]} × {SIZE[1]}, {FRAMES} frames, seeds
{SEEDS[0]} to {SEEDS[-1]} of each (`calado/follow/tests/filmed.py`), held to the first frame without any help. By how
much the worst corner of the frame is off; off: by more than {OFF:.0f} px. Sure: above 80 %; doubtful: below 50 %, or
not found.

| | corners, median px | worst px | set not found | off among sure | off or gone among doubtful | CPU ms a frame |
|---|---|---|---|---|---|---|
"""


def _row(name: str, take: Take) -> str:
    # of each frame: how sure, by how much it is off (of another shot: endlessly), and whether it shows the set
    told: list[tuple[float, float, bool]] = []
    seconds = 0.0
    for seed in SEEDS:
        first, *others = Film(take, seed, FRAMES, SIZE).frames()
        began = process_time()
        camera = Camera(first.codes, np.zeros(first.codes.shape, bool))
        for number, made in enumerate(others, start=1):
            shows, motion = number not in take.elsewhere, camera.step(made.codes)
            off = np.inf if motion is None else off_at_corners(np.linalg.inv(motion), made.matrix, SIZE)
            told.append((camera.sure if motion is not None else 0.0, off if shows else np.inf, shows))
        seconds += process_time() - began
    sure, off, shows = (np.array(each) for each in zip(*told, strict=True))
    found = off[np.isfinite(off)]
    share = lambda part: f"{int((part > OFF).sum())} of {len(part)}" if len(part) else "–"  # noqa: E731
    missed, ms = int((shows & ~np.isfinite(off)).sum()), 1000 * seconds / len(told)
    return (
        f"| {name} | {np.median(found):.2f} | {found.max():.2f} | {missed} of {int(shows.sum())} |"
        f" {share(off[sure > 0.8])} | {share(off[sure < 0.5])} | {ms:.0f} |\n"
    )


def table() -> str:
    """Return the table."""
    return HEAD + "".join(_row(name, take) for name, take in TAKES.items())


if __name__ == "__main__":
    print(table())
