"""The company's cart: painted boards, wheels, a striped cover, a plate."""

from typing import Any

import numpy as np

from demo.scenes.kit import geometry, textures
from demo.scenes.kit.materials import striped, wooden
from demo.scenes.kit.tracing import Scene, T, bitmap, painted

TEAL = (0.03, 0.16, 0.17)
RED_WOOD = ((0.50, 0.05, 0.03), (0.42, 0.04, 0.025), (0.2, 0.02, 0.01))
#: the plate's face: x, lowest and highest y, half its width along z
PLATE = (-1.183, 0.70, 0.86, 0.30)


def wheel(scene: Scene, at: Any, wood: Any, radius: float = 0.42) -> None:
    """Put a wheel of eight spokes."""
    turn = np.linspace(0, 2 * np.pi, 60)
    rim = np.stack([radius * np.cos(turn), radius * np.sin(turn), 0 * turn], 1)
    scene.mesh("rim", geometry.tube(rim, 0.045, 14, ends=False), wood, at, "cart")
    for angle in np.arange(8) * np.pi / 4:
        end = radius * np.array([np.cos(angle), np.sin(angle), 0])
        scene.mesh("spoke", geometry.tube(np.linspace(0 * end, end, 3), 0.024, 8), wood, at, "cart")
    scene.mesh("hub", geometry.tube(np.linspace([0, 0, -0.09], [0, 0, 0.09], 4), 0.075, 20), wood, at, "cart")


def cart(scene: Scene, at: Any, plate: np.ndarray | None = None) -> None:
    """Put a cart, its back towards −x; ``plate`` is what its plate says, linear, shape (H, W, 3)."""
    tones = (tuple(c * 1.5 for c in TEAL), TEAL, tuple(c * 0.35 for c in TEAL))
    boards = wooden(71, tones, planks=4, su=0.5, sv=1 / 0.9, rough=0.4, gap=0.012, bump=0.012)
    red = wooden(72, RED_WOOD, w=1024, h=512, rough=0.4)
    scene.mesh("body", geometry.box(2.3, 0.85, 1.15, 0.03), boards, at @ T().translate([0, 0.95, 0]), "cart")
    for y in (0.52, 1.38):
        scene.mesh("trim", geometry.box(2.4, 0.09, 1.23, 0.03), red, at @ T().translate([0, y, 0]), "cart")
    _cover(scene, at)
    for x in (-0.72, 0.72):
        for z in (-0.66, 0.66):
            wheel(scene, at @ T().translate([x, 0.42, z]), red)
    for z in (-0.3, 0.3):
        shaft = [[1.1, 0.62, z], [1.7, 0.58, z], [2.3, 0.45, z]]
        scene.mesh("shaft", geometry.tube(shaft, 0.035, 12), red, at, "cart")
    if plate is not None:
        _plate(scene, at, plate)


def _cover(scene: Scene, at: Any) -> None:
    """Put the cover, sewn shut at both ends."""
    cloth, height = textures.cloth(1024, 1024, (0.66, 0.56, 0.40), 160, 3)
    canvas = painted(
        bitmap(striped(cloth, 10, (0.75, 0.10, 0.09))), rough=0.85, sheen=0.5, bump=bitmap(height), scale=0.004
    )
    x, angle = np.meshgrid(np.linspace(-1.2, 1.2, 70), np.linspace(-0.05, np.pi + 0.05, 60))
    radius = 0.60 + 0.012 * np.cos(x * 2 * np.pi / 0.48)
    arch = np.stack([x, 1.42 + radius * np.sin(angle) * 1.05, radius * np.cos(angle)], -1)
    scene.mesh("canvas", geometry.sheet(arch), canvas, at, "cart")
    plain = painted(bitmap(cloth), rough=0.85, sheen=0.5, bump=bitmap(height), scale=0.004)
    for side in (-1.17, 1.17):
        share, round_ = np.meshgrid(np.linspace(0, 1, 24), np.linspace(0, np.pi, 60))
        gathered = 0.02 * np.sin(round_ * 21) * share
        end = np.stack([side + gathered, 1.42 + 0.63 * share * np.sin(round_), 0.6 * share * np.cos(round_)], -1)
        scene.mesh("end", geometry.sheet(end), plain, at, "cart")


def _plate(scene: Scene, at: Any, says: np.ndarray) -> None:
    metal = painted((0.5, 0.5, 0.5), rough=0.4)
    scene.mesh("plate", geometry.box(0.03, 0.17, 0.62, 0.008), metal, at @ T().translate([-1.165, 0.78, 0]), "plate")
    x, low, top, half = PLATE
    face = np.stack([np.full((2, 2), x), np.array([[top, top], [low, low]]), np.array([[-half, half]] * 2)], -1)
    lettered = painted(bitmap(says[::-1]), rough=0.35, coat=0.4)
    scene.mesh("lettering", geometry.sheet(face[::-1]), lettered, at, "plate")
