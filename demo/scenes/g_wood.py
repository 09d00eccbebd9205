"""A wood of upright trunks with a few in front, and a painted lantern cart's light far in: for streaks along trunks."""

import numpy as np

from demo.scenes.kit import geometry, noise, textures
from demo.scenes.kit.command import Still, render
from demo.scenes.kit.lens import Look
from demo.scenes.kit.stage import Lantern
from demo.scenes.kit.tracing import Scene, T, bitmap, glowing, painted

#: bark in its cracks, between, and on its plates
BARK = [(0, (0.03, 0.02, 0.014)), (0.5, (0.17, 0.125, 0.09)), (1, (0.38, 0.32, 0.255))]
#: trunks in front, sharp: x, z, radius
FRONT = ((-3.0, 1.2, 0.42), (0.75, 0.2, 0.36), (4.3, 1.8, 0.5))
BEHIND = 46
#: how far from each other trunks keep
APART = 1.15


def bark(seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Return colours and heights of bark, shape (2048, 512): plates between cracks, moss on one side."""
    wide, high = 512, 2048
    angle, up = np.meshgrid(np.linspace(0, 2 * np.pi, wide), np.linspace(0, 1, high))
    round_ = np.stack([np.cos(angle).ravel(), up.ravel() * 12, np.sin(angle).ravel()], 1)
    bent = 0.35 * noise.at(round_, np.array([2.0, 0.5, 2.0]), 4, seed)
    places = round_ * np.array([1.0, 0.85, 1.0]) + bent[:, None]
    cells = noise.cells(places, 3.4, seed + 1)
    crack = np.clip(cells[:, 1] / 0.3, 0, 1).reshape(high, wide)
    fine = noise.at(round_, np.array([14.0, 3.0, 14.0]), 5, seed + 2).reshape(high, wide)
    moss = noise.at(round_, np.array([1.2, 0.5, 1.2]), 5, seed + 3).reshape(high, wide)
    plate = cells[:, 2].reshape(high, wide)
    tone = 0.25 + 0.45 * crack + 0.5 * fine + 0.25 * (plate - 0.5)
    colour = textures.ramp(tone, BARK)
    green = np.clip((moss + 0.25 * np.cos(angle - 2.2) - 0.12) * 4, 0, 1)[..., None] * crack[..., None]
    colour = colour * (1 - 0.75 * green) + np.array([0.055, 0.085, 0.018]) * 0.75 * green
    return np.clip(colour, 0.004, 0.6).astype("f4"), (1.4 * crack + 0.5 * fine).astype("f4")


def trunk(radius: float, chance: np.random.Generator) -> geometry.Mesh:
    """Return a trunk that swells at its roots and is nowhere quite round."""
    phase = chance.random(4) * 6.28

    def warp(angle: np.ndarray, y: np.ndarray, wide: np.ndarray) -> np.ndarray:
        roots = np.exp(-np.maximum(y, 0) / 0.55) * (0.55 + 0.45 * np.sin(5 * angle + phase[0]))
        uneven = 0.05 * np.sin(2 * angle + phase[1] + y * 0.5) + 0.03 * np.sin(3 * angle + phase[2] - y * 0.8)
        return wide * (1 + 0.7 * roots + uneven)

    line = [(radius, -0.3), (radius, 0.0), (radius * 0.94, 3.0), (radius * 0.84, 8.0), (radius * 0.7, 15.0)]
    vertices, faces, places, _ = geometry.lathe(line, 160, 260, warp=warp)
    lean = chance.uniform(-0.02, 0.02, 2)
    bend = 0.07 * np.sin(vertices[:, 1] * 0.35 + phase[3])
    vertices = vertices + np.stack([lean[0] * vertices[:, 1] + bend, 0 * bend, lean[1] * vertices[:, 1]], 1)
    return vertices.astype("f4"), faces, places, geometry.normals(vertices, faces)


def ground(chance: np.random.Generator) -> geometry.Mesh:
    """Return the forest floor, rising and falling."""
    x, z = np.meshgrid(np.linspace(-30, 30, 700), np.linspace(8, -46, 600))
    places = np.stack([x.ravel(), z.ravel(), 0 * x.ravel()], 1)
    slow = noise.at(places, np.full(3, 0.16), 5, int(chance.integers(99)))
    leaves = noise.at(places, np.full(3, 5.0), 3, int(chance.integers(99)))
    y = (0.55 * slow + 0.07 * leaves).reshape(x.shape)
    vertices, faces, _, around = geometry.sheet(np.stack([x, y, z], -1))
    return vertices, faces[:, ::-1], np.stack([x.ravel(), z.ravel()], 1), -around


def litter() -> tuple[np.ndarray, np.ndarray]:
    """Return colours and heights of fallen leaves, in small cells, some moss between."""
    size = 2048
    cells = noise.cells(noise.grid(size, size, 74, 74), 1.0, 4)
    tone, edge = cells[:, 2].reshape(size, size), np.clip(cells[:, 1] / 0.2, 0, 1).reshape(size, size)
    moss = np.clip(noise.plane(size, size, 3, 3, octaves=5, seed=9) * 5, 0, 1)[..., None]
    stops = [
        (0, (0.05, 0.026, 0.012)),
        (0.4, (0.14, 0.07, 0.026)),
        (0.75, (0.24, 0.12, 0.035)),
        (1, (0.32, 0.19, 0.07)),
    ]
    colour = textures.ramp(tone, stops) * (0.35 + 0.65 * edge[..., None])
    colour = colour * (1 - 0.65 * moss) + np.array([0.06, 0.10, 0.02]) * 0.65 * moss
    return colour.astype("f4"), (0.7 * edge + 0.3 * tone).astype("f4")


def glade() -> np.ndarray:
    """Return the light behind the wood, shape (700, 1600, 3): pale mist low down, leaves above, gaps of sky."""
    wide, high = 1600, 700
    up = np.linspace(1, 0, high)[:, None, None]
    stops = [(0, (0.05, 0.06, 0.02)), (0.10, (0.16, 0.19, 0.08)), (0.2, (0.75, 0.78, 0.5)), (0.4, (1.5, 1.5, 1.0))]
    uneven = 0.12 * noise.plane(wide, high, 40, 12, octaves=5, seed=2)
    mist = textures.ramp(up[..., 0] + uneven, [*stops, (1, (0.5, 0.7, 0.5))])
    leaves = noise.plane(wide, high, 26, 12, octaves=6, seed=3)[..., None] + 0.35 * (up - 0.55)
    shade = np.clip(leaves * 5, 0, 1)
    cells = noise.cells(noise.grid(wide, high, 90, 40), 1.0, 6)[:, 2].reshape(high, wide)[..., None]
    return mist * (1 - 0.8 * shade) + np.array([0.10, 0.16, 0.04]) * (0.4 + 1.4 * cells) * shade


def build() -> Scene:
    """Return the scene."""
    scene, chance = Scene(), np.random.default_rng(21)
    barks = [bark(31 + 10 * number) for number in range(4)]
    skins = []
    for colour, height in barks:
        tiles = T().scale([2, 1, 1])
        skins.append(
            painted(bitmap(colour, xf=tiles), rough=0.85, spec=0.2, bump=bitmap(height, xf=tiles), scale=0.045)
        )
    colour, height = litter()
    tiles = T().scale([1 / 8.0, 1 / 8.0, 1])
    floor = painted(bitmap(colour, xf=tiles), rough=0.8, spec=0.25, bump=bitmap(height, xf=tiles), scale=0.05)
    scene.mesh("ground", ground(chance), floor, None, "ground")
    for number, (x, z, radius) in enumerate(FRONT):
        turn = T().translate([x, -0.1, z]).rotate([0, 1, 0], float(chance.uniform(0, 360)))
        scene.mesh("front", trunk(radius, chance), skins[number % 4], turn, "front")
    placed: list[np.ndarray] = []
    while len(placed) < BEHIND:
        at = np.array([chance.uniform(-14, 14), chance.uniform(-26, -3)])
        if any(np.hypot(*(at - other)) < APART for other in placed):
            continue
        placed.append(at)
        turn = T().translate([float(at[0]), -0.2, float(at[1])]).rotate([0, 1, 0], float(chance.uniform(0, 360)))
        skin = skins[int(chance.integers(4))]
        scene.mesh("trunk", trunk(float(chance.uniform(0.2, 0.42)), chance), skin, turn, "trunks")
    lantern = Lantern()
    lantern.place(scene, (2.15, 1.75, -1.4), 0.42, 6.0, cord=9)
    x, y = np.meshgrid([-34.0, 34.0], [24.0, -2.0])
    card = geometry.sheet(np.stack([x, y, np.full((2, 2), -34.0)], -1))
    scene.mesh("glade", geometry.flip(card), painted((0, 0, 0)), None, "sky", emitter=glowing(bitmap(glade())))
    scene.window("sun", (-16, 22, -14), (0, 1, -3), (2.2, 2.2), (420, 330, 190))
    scene.window("open sky", (4, 16, 12), (0, 2, 0), (9, 5), (5.0, 5.6, 6.2))
    scene.around(0.22, 0.25, 0.20)
    return scene


STILL = Still(
    "g_wood",
    build,
    {"origin": (0.3, 1.9, 9.4), "target": (0.3, 2.35, 0), "fov": 48, "aperture": 0.045, "focus": 9.0},
    Look(exposure=1.0, glow=0.08),
    {"front": ("front",), "trunks": ("trunks",), "lanterns": ("lantern",)},
    samples=12,
    limit=40.0,
)

if __name__ == "__main__":
    render(STILL)
