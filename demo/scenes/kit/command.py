"""The command that renders a still: ``python -m demo.scenes.a_bench [--width 1600] [--samples 10] [--mattes 24]``.

The picture goes to ``demo/stills``, its exact mattes to ``demo/truth``; how long it took is printed as a table's row.
"""

import argparse
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from PIL import Image

from demo.scenes.kit import truths
from demo.scenes.kit.files import CACHE, STILLS, TRUTH
from demo.scenes.kit.lens import Look, codes, developed, encoded
from demo.scenes.kit.puppet import face_in
from demo.scenes.kit.tracing import Scene, camera, mattes, trace


@dataclass(frozen=True)
class Still:
    """A picture that can be rendered: how it is built and seen, and which groups have mattes.

    ``samples`` are traced per pixel; ``rough`` is the share of the picture left as traced, which keeps skin from
    looking polished.
    """

    name: str
    build: Callable[[], Scene]
    view: dict[str, Any]
    look: Look
    groups: dict[str, tuple[str, ...]]
    samples: int = 12
    cover: int = 24
    limit: float = 60.0
    #: more that is true of the picture at a size
    extra: Callable[[int, int], dict[str, Any]] | None = None
    #: where heads are
    faces: Callable[[], list[Any]] = list
    aspect: float = 2 / 3
    depth: int = field(default=7)


def render(still: Still) -> None:
    """Render what the command line asks for."""
    asks = argparse.ArgumentParser(description=still.name)
    asks.add_argument("--width", type=int, default=1600)
    asks.add_argument("--samples", type=int, default=still.samples, help="a pixel; 0 leaves the picture as it is")
    asks.add_argument("--mattes", type=int, default=still.cover, help="samples a pixel; 0 leaves them out")
    asks.add_argument("--large", action="store_true", help="only the large JPEG, without mattes")
    asks.add_argument("--truth", action="store_true", help="only what is true of it, without rendering")
    asked = asks.parse_args()
    width, height = asked.width, round(asked.width * still.aspect)
    if asked.truth:
        save_truth(still, width, height)
        return
    begun = time.time()
    scene, view = still.build(), camera(width=width, height=height, **still.view)
    built = time.time()
    if asked.samples:
        light = trace(scene, view, asked.samples, still.depth, limit=still.limit)
        picture = Image.fromarray(codes(encoded(developed(light, still.look))))
        if asked.large:
            picture.save(STILLS / "more" / f"{still.name}_large.jpg", quality=90)
        else:
            np.save(CACHE / f"{still.name}.npy", light.astype("f2"))
            picture.save(STILLS / f"{still.name}.png", optimize=True)
    traced = time.time()
    if not asked.large:
        if asked.mattes:
            _save_mattes(still, scene, view, asked.mattes)
        save_truth(still, width, height)
    whole = time.time()
    took = (built - begun, traced - built, whole - traced, whole - begun)
    print(f"| {still.name} | {width} × {height} | {asked.samples} |", *(f"{each:.0f} s |" for each in took), flush=True)


def _save_mattes(still: Still, scene: Scene, view: dict[str, Any], samples: int) -> None:
    names = list(still.groups)
    for first in range(0, len(names), 3):
        some = names[first : first + 3]
        found = mattes(scene, view, [still.groups[each] for each in some], samples)
        for number, name in enumerate(some):
            grey = np.rint(found[..., number] * 255).astype("u1")
            Image.fromarray(grey).save(TRUTH / f"{still.name}_{name}.png", optimize=True)


def save_truth(still: Still, width: int, height: int) -> None:
    """Write what is true of a picture: its mattes' files, its faces, and what else it says."""
    told = {"width": width, "height": height, "mattes": {each: f"{still.name}_{each}.png" for each in still.groups}}
    faces = [face_in(each, still.view, width, height) for each in still.faces()]
    truths.save("stills", still.name, told | {"faces": faces} | (still.extra(width, height) if still.extra else {}))
