"""How near a surround out of focus comes to that of a lens, on composites of which everything is known."""

import numpy as np
from scipy import ndimage

from calado.render.tests.composed import SIDE, Edge, composite, difference, naive, treated, truth

SEEDS, SIGMAS = range(1, 9), (4.0, 8.0, 16.0)

HEAD = f"""
**Surrounds out of focus** (`calado/render/passes.py`): a subject of any colours before a surround of any, its edge a
disc's of 1 to 4 px or beset with hair, seeds {SEEDS[0]} to {SEEDS[-1]}, blurred by {SIGMAS[0]:g}, {SIGMAS[1]:g} and
{SIGMAS[2]:g} px (`calado/render/tests/composed.py`). Mean CIEDE2000 within 12 px of where both show, against
α·F + (1 − α)·K∗B with the whole of B known; median and worst of the trials.

| | the usual way | beside a drawn edge | the same, grown by 2 px | by 6 px | beside a solved edge |
|---|---|---|---|---|---|
"""


def _trial(seed: int, edge: Edge, sigma: float) -> list[float]:
    made, near = composite(seed, edge), composite(seed, edge).near()
    outside = {"blur": {"radius": sigma / SIDE}}
    grown = [ndimage.grey_dilation(made.alpha, size=(2 * px + 1, 2 * px + 1)) for px in (0, 2, 6)]
    shown = [
        naive(made, sigma),
        *(treated(made, outside, parted=False, matte=each) for each in grown),
        treated(made, outside),
    ]
    wanted = truth(made, sigma)
    return [difference(each, wanted, near) for each in shown]


def table() -> str:
    """Return the table."""
    told = HEAD
    edges: dict[Edge, str] = {"disc": "soft edge", "hair": "hair"}
    for edge, name in edges.items():
        every = np.array([_trial(seed, edge, sigma) for seed in SEEDS for sigma in SIGMAS])
        cells = [f"{np.median(each):.2f} · {each.max():.2f}" for each in every.T]
        told += f"| {name} | {' | '.join(cells)} |\n"
    return told


if __name__ == "__main__":
    print(table())
