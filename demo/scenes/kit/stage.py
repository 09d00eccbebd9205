"""The puppets' stage: planks, curtain, two pillars, a painted town under the moon, and paper lanterns."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from PIL import Image, ImageDraw
from scipy import ndimage as ni

from demo.scenes.kit import geometry, noise, textures
from demo.scenes.kit.materials import moth, wooden, woven
from demo.scenes.kit.tracing import Scene, T, bitmap, file_of, glowing, loaded, painted

PAPER = [(0.20, -0.62), (0.34, -0.55), (0.50, -0.3), (0.55, 0), (0.50, 0.3), (0.34, 0.55), (0.20, 0.62)]
CAP = [(0, 0), (0.22, 0), (0.235, 0.03), (0.2, 0.07), (0.08, 0.1), (0.05, 0.14), (0, 0.14)]
CAP_WOOD = ((0.20, 0.11, 0.05), (0.12, 0.06, 0.03), (0.05, 0.025, 0.012))
#: ribs per unit of height
RIBS = 5.2
PILLAR = [
    *((0.0, 0), (0.75, 0), (0.75, 0.3), (0.55, 0.42), (0.46, 0.6), (0.44, 4.0), (0.42, 8), (0.55, 8.3), (0.75, 8.5)),
    *((0.75, 8.9), (0, 8.9)),
]
PILLARS = ((-5.6, -1.0), (2.9, 1.6))
PILLAR_WOOD = ((0.40, 0.30, 0.16), (0.30, 0.2, 0.09), (0.12, 0.07, 0.03))
FLOOR_WOOD = ((0.30, 0.17, 0.085), (0.20, 0.105, 0.05), (0.07, 0.035, 0.016))
RED = (0.17, 0.014, 0.02)


def _ribbed(_: np.ndarray, y: np.ndarray, radius: np.ndarray) -> np.ndarray:
    return radius * (1 + 0.018 * np.abs(np.cos(y * 2 * np.pi * RIBS)) - 0.01)


def _fluted(angle: np.ndarray, y: np.ndarray, radius: np.ndarray) -> np.ndarray:
    return radius * (1 + 0.02 * np.sin(angle * 12) * ((y > 0.6) & (y < 8)))


def paper_light(seed: int, marked: bool = True) -> np.ndarray:
    """Return the light of a lantern's paper, shape (512, 1024, 3): brightest in its middle, darker at ribs and mark."""
    wide, high = 1024, 512
    drawn = Image.new("L", (wide, high), 255)
    if marked:
        for x in (wide * 0.25, wide * 0.75):
            moth(ImageDraw.Draw(drawn), x, high * 0.5, high * 0.20, 10)
    mark = ni.gaussian_filter(np.asarray(drawn, "f4") / 255, 1.2)
    v = np.linspace(-1, 1, high)[:, None]
    grain = 0.35 * noise.plane(wide, high, 10, 6, octaves=6, seed=seed)
    fibres = 0.25 * noise.plane(wide, high, 60, 14, octaves=3, seed=seed + 3)
    light = (0.22 + 0.95 * np.exp(-(((v - 0.06) / 0.52) ** 2))) * (1 + grain + fibres) * (0.05 + 0.95 * mark)
    ribs = np.exp(-((np.cos(v * 0.62 * 2 * np.pi * RIBS) / 0.16) ** 2))
    strong = np.clip(light * (1 - 0.30 * ribs), 0, 1.3)[..., None]
    return (strong * np.array([1.0, 0.50, 0.15]) * (1 + np.array([0, 0.28, 0.35]) * strong**2)).astype("f4")


class Lantern:
    """A paper lantern with wooden caps, loaded once."""

    def __init__(self, seed: int = 1) -> None:
        self.light = paper_light(seed)
        self.paper, self.cap = (
            file_of(geometry.lathe(PAPER, 200, 260, warp=_ribbed)),
            file_of(geometry.lathe(CAP, 60, 40)),
        )
        self.cap_wood = loaded(wooden(60, CAP_WOOD, w=512, h=256))
        self.paper_matter = loaded(painted((0.62, 0.46, 0.26), rough=0.7))
        self.cord = loaded(painted((0.05, 0.04, 0.03)))

    def place(
        self,
        scene: Scene,
        at: Sequence[float],
        scale: float = 1.0,
        power: float = 10.0,
        cord: float = 6.0,
        turn: float = 0.0,
        group: str = "lantern",
    ) -> None:
        """Hang it at a place, on a cord of a length, none at 0."""
        x, y, z = at
        body = T().translate([x, y, z]).rotate([0, 1, 0], turn).scale(scale)
        shine = {"bsdf": self.paper_matter, "to_world": body, "emitter": glowing(bitmap(self.light * power))}
        scene.add("lantern", self.paper | shine, group)
        for up, turned in ((0.60, 0), (-0.60, 180)):
            place = body @ T().translate([0, up, 0]).rotate([1, 0, 0], turned)
            scene.add("cap", self.cap | {"bsdf": self.cap_wood, "to_world": place}, group)
        if cord:
            way = [[x, y + each, z] for each in (0.7 * scale, cord / 2, cord)]
            scene.mesh("cord", geometry.tube(way, 0.02 * scale, 8), self.cord, None, "cord")


def curtain(
    scene: Scene,
    across: tuple[float, float],
    up: tuple[float, float],
    z: float,
    colour: tuple[float, float, float] = RED,
    seed: int = 1,
    matter: Any = None,
) -> None:
    """Hang a curtain in folds."""
    phase = np.random.default_rng(seed).random(3) * 6
    x, y = np.meshgrid(np.linspace(*across, int((across[1] - across[0]) * 46)), np.linspace(*up, 60))
    deep = 0.3 * np.sin(x * 2.2 + phase[0] + 0.7 * np.sin(x * 0.9 + phase[1]))
    fine = 0.105 * np.sin(x * 5.06 + y * 0.2 + phase[2])
    cloth = matter or woven(colour, seed, 150, (across[1] - across[0]) / 4, (up[1] - up[0]) / 4)
    scene.mesh("curtain", geometry.sheet(np.stack([x, y, z + deep + fine], -1)[::-1]), cloth, None, "set")


def town(wide: int = 1400, high: int = 900) -> Image.Image:
    """Return the painted drop: roofs and lit windows under a moon."""
    down = np.linspace(0, 1, high)[:, None, None]
    sky = (np.array([18, 30, 66]) * (1 - down) + np.array([150, 96, 92]) * down**2.2) * np.ones((1, wide, 1))
    sky = sky * (1 + 0.55 * noise.plane(wide, high, 7, 9, octaves=6, seed=8)[..., None])
    picture = Image.fromarray(np.clip(sky, 0, 255).astype("u1"))
    draw, chance = ImageDraw.Draw(picture), np.random.default_rng(3)
    draw.ellipse([930, 130, 1110, 310], fill=(236, 220, 170))
    for _ in range(90):
        x, y, size = chance.random() * wide, chance.random() ** 1.4 * high * 0.6, chance.random() * 2.4 + 0.6
        draw.ellipse([x - size, y - size, x + size, y + size], fill=(226, 216, 180))
    for row, colour in enumerate(((70, 62, 84), (44, 42, 62), (26, 28, 44))):
        x = 0
        while x < wide:
            across = int(chance.integers(60, 150))
            _house(draw, chance, x, high - int(chance.integers(150, 330)) + row * 55, across, high, colour)
            x += across + int(chance.integers(-6, 14))
    return picture


def _house(
    draw: ImageDraw.ImageDraw,
    chance: np.random.Generator,
    x: int,
    top: int,
    across: int,
    floor: int,
    colour: tuple[int, int, int],
) -> None:
    draw.rectangle([x, min(top, floor - 1), x + across, floor], fill=colour)
    gable = top - across * chance.uniform(0.3, 0.9)
    dark = tuple(int(each * 0.8) for each in colour)
    draw.polygon([(x - 6, top), (x + across / 2, gable), (x + across + 6, top)], fill=dark)
    for _ in range(4):
        if chance.random() < 0.55:
            left, up = x + int(chance.integers(8, across - 16)), top + int(chance.integers(10, 90))
            draw.rectangle([left, up, left + 10, up + 16], fill=(226, 168, 80))


def stage(scene: Scene) -> None:
    """Build the stage round the origin; the audience sits towards +z."""
    tiles = {"su": 1 / 11.0, "sv": 1 / 8.0, "planks": 8, "w": 2048, "h": 2048}
    planks = wooden(77, FLOOR_WOOD, rough=0.36, gap=0.007, bump=0.03, spec=0.45, **tiles)
    scene.mesh("floor", geometry.box(34, 0.4, 16, 0.03), planks, T().translate([0, -0.2, 0]), "floor")
    curtain(scene, (-17, -6.2), (-0.1, 14), -4.2, seed=3)
    curtain(scene, (6.4, 17), (-0.1, 14), -4.4, seed=5)
    x, y = np.meshgrid(np.linspace(-8, 8, 60), np.linspace(-0.1, 10.6, 40))
    drop = geometry.sheet(np.stack([x, y, -6 + 0.06 * np.sin(x * 0.8 + y)], -1)[::-1])
    scene.mesh("drop", drop, painted(bitmap(textures.paper(town(), 5, 0.6)), rough=0.85, spec=0.15), None, "set")
    # turned so that the seam of the wood lies behind
    wood = wooden(55, PILLAR_WOOD, su=2.0, sv=1.2, rot=90, rough=0.35)
    for x, z in PILLARS:
        shape = geometry.lathe(PILLAR, 160, 300, warp=_fluted)
        scene.mesh("pillar", shape, wood, T().translate([x, 0, z]).rotate([0, 1, 0], 90), "pillar")
