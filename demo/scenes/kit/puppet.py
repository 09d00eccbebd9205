"""The whole puppet: head, hair, coat, limbs on joints, strings; loaded once, then only placed.

Feet at the origin, facing +z, about 6 units tall.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from demo.scenes.kit import geometry, hair, head, paint
from demo.scenes.kit.materials import wooden, woven
from demo.scenes.kit.tracing import (
    Plain,
    Scene,
    T,
    bitmap,
    file_of,
    loaded,
    mi,
    painted,
    project,
    strands_file,
    two_sided,
)

Profile = list[tuple[float, float]]
RUFF: Profile = [(0.27, 0.06), (0.5, 0.05), (0.72, -0.02), (0.76, -0.06), (0.5, -0.02), (0.28, -0.02)]
COAT: Profile = [
    *((0.26, 0.02), (0.5, -0.03), (0.78, -0.18), (0.86, -0.42), (0.80, -0.9), (0.70, -1.3), (0.86, -1.75)),
    *((1.08, -2.25), (1.10, -2.3), (1.02, -2.28), (0.6, -1.9)),
]
BUTTON: Profile = [(0, 0.05), (0.05, 0.045), (0.075, 0.0), (0.06, -0.03), (0, -0.03)]
BOOT: Profile = [(0, 0), (0.2, 0), (0.26, 0.05), (0.27, 0.2), (0.24, 0.4), (0.22, 0.62), (0.25, 0.66), (0.2, 0.66)]
PALM: Profile = [(0, -0.02), (0.09, 0), (0.12, 0.1), (0.15, 0.26), (0.12, 0.38), (0, 0.42)]
FINGER: Profile = [(0, 0), (0.04, 0.0), (0.045, 0.12), (0.036, 0.26), (0.02, 0.3), (0, 0.305)]
HAND = ((0.62, 0.37, 0.24), (0.56, 0.32, 0.21), (0.36, 0.2, 0.12))
#: from so many strands on a head they are drawn at their own thickness
FULL_HAIR = 6000
PUPPET = ("head", "eyes", "hair", "body")


@dataclass(frozen=True)
class Pose:
    """How the puppet stands: limbs as (swing, bend) and turns in degrees, ``head`` = (yaw, pitch, roll)."""

    left_leg: tuple[float, float] = (0, 0)
    right_leg: tuple[float, float] = (0, 0)
    left_arm: tuple[float, float] = (8, 15)
    right_arm: tuple[float, float] = (8, 15)
    spread: tuple[float, float] = (14, 14)
    head: tuple[float, float, float] = (0, 0, 0)
    lean: tuple[float, float] = (0, 0)
    bob: float = 0.0
    look: tuple[float, float] = (0, 0)


def trunk_at(at: Any, pose: Pose) -> Any:
    """Return where the top of the coat is, its collar, for a puppet placed at ``at``."""
    hip = at @ T().translate([0, 2.25 + pose.bob, 0])
    lean = hip.rotate([0, 0, 1], float(pose.lean[0])).rotate([1, 0, 0], float(pose.lean[1]))
    return lean @ T().translate([0, 1.75, 0])


def head_at(at: Any, pose: Pose) -> Any:
    """Return where the head is."""
    yaw, pitch, roll = (float(each) for each in pose.head)
    neck = trunk_at(at, pose) @ T().translate([0, 1.06, 0.02])
    return neck @ T().rotate([0, 1, 0], yaw).rotate([1, 0, 0], pitch).rotate([0, 0, 1], roll)


def face_in(at: Any, view: Plain, width: int, height: int) -> Plain:
    """Return what is true of a face in a picture: its middle, its outline's box and size in pixels, its turn."""
    matrix = np.array(at.matrix)
    places = np.c_[np.array([head.MIDDLE, *head.FACE]), np.ones(len(head.FACE) + 1)] @ matrix.T
    seen = project(places[:, :3], view["origin"], view["target"], view["fov"], width, height)[:, :2]
    ahead, up = matrix[:3, :3] @ np.array([0, 0, 1.0]), matrix[:3, :3] @ np.array([0, 1.0, 0])
    return face_of(seen, float(np.degrees(np.arctan2(ahead[0], ahead[2]))), float(np.degrees(np.arctan2(up[0], up[1]))))


def face_of(seen: np.ndarray, turn: float, tilt: float) -> Plain:
    """Return a face as it is told: ``seen`` holds the pixels of its middle, then of its outline, nose and eyes."""
    (left, top), (right, low) = seen[1:].min(0), seen[1:].max(0)
    return {
        "centre": [round(float(each), 2) for each in seen[0]],
        "box": [round(float(each), 2) for each in (left, top, right, low)],
        "size": round(float(low - top), 2),
        "turn": round(turn, 2),
        "tilt": round(tilt, 2),
    }


def ball(across: int = 60, down: int = 40) -> geometry.Mesh:
    """Return a sphere of radius 1."""
    polar, round_ = np.meshgrid(np.linspace(0, np.pi, down), np.linspace(0, 2 * np.pi, across), indexing="ij")
    places = np.stack([np.sin(polar) * np.cos(round_), np.cos(polar), -np.sin(polar) * np.sin(round_)], -1)
    return geometry.sheet(places, closed=True)


def skin_of(width: int, skin: tuple[float, float, float], seed: int) -> Plain:
    """Return the painted wood of a head."""
    coat = paint.paint(width, skin, seed)
    base = {
        "type": "principled",
        "base_color": bitmap(coat.colour),
        "roughness": bitmap(coat.rough),
        "specular": 0.42,
        "clearcoat": 0.12,
        "clearcoat_gloss": 0.7,
    }
    return two_sided(base, bitmap(coat.height), 0.010)


def eye_shape() -> tuple[Plain, Plain]:
    """Return a glass eye: its mesh and its material."""
    mesh, colour = paint.eye()
    return file_of(mesh), painted(bitmap(colour), rough=0.10, spec=0.7, coat=1.0, coat_gloss=0.99)


def pleated(angle: np.ndarray, _: np.ndarray, radius: np.ndarray) -> np.ndarray:
    """Return the radius of a ruff in its pleats."""
    return radius * (1 + 0.10 * np.sin(angle * 17 + 2 * np.sin(angle * 3)) * np.clip((radius - 0.3) / 0.4, 0, 1))


def _folded(angle: np.ndarray, y: np.ndarray, radius: np.ndarray) -> np.ndarray:
    """Return the radius of a coat in its folds, deeper towards the hem."""
    deep = 0.02 + 0.08 * np.clip(-y / 2.2, 0, 1)
    return radius * (1 + deep * np.sin(angle * 9 + y) + 0.02 * np.sin(angle * 14 - y * 3))


def _sleeve(way: np.ndarray) -> np.ndarray:
    """Return a sleeve's radius along its way: set in round at the shoulder, wider again at its cuff."""
    along = np.r_[0, np.cumsum(np.linalg.norm(np.diff(way, axis=0), axis=1))]
    share = along / along[-1]
    dome = np.sqrt(1 - np.clip(1 - along / 0.3, 0, 1) ** 2)
    return dome * np.interp(share, [0, 0.2, 0.55, 0.92, 0.93, 1], [0.28, 0.28, 0.22, 0.25, 0.275, 0.28])


class Puppet:
    """All parts of one puppet, loaded once; placing it only sets transforms and bends limbs."""

    def __init__(
        self,
        coat: tuple[float, float, float] = (0.012, 0.105, 0.12),
        ruff: tuple[float, float, float] = (0.62, 0.36, 0.07),
        seed: int = 5,
        step: float = 0.0085,
        strands: int = 7000,
        detail: int = 3072,
    ) -> None:
        self.skin = loaded(skin_of(detail, paint.SKIN, seed))
        self.head = file_of(head.head(step))
        self.eye, eye = eye_shape()
        self.eye_glass = loaded(eye)
        thick = max(1.0, (FULL_HAIR / strands) ** 0.6)
        self.hair = strands_file(*hair.hair(strands, seed + 1), thick)
        self.hair_matter = loaded(hair.matter())
        self.ruff = file_of(geometry.lathe(RUFF, 500, 60, warp=pleated))
        self.ruff_cloth = loaded(woven(ruff, 4, 150, 3, 0.6, 0.8))
        self.coat = file_of(geometry.lathe(COAT, 400, 200, warp=_folded))
        self.coat_cloth = loaded(woven(coat, 6, 170))
        self.button = file_of(geometry.lathe(BUTTON, 40, 30))
        self.copper = loaded(two_sided({"type": "roughconductor", "material": "Cu", "alpha": 0.22}))
        self.trouser_cloth = loaded(woven((0.05, 0.035, 0.06), 8, 120))
        self.leather = loaded(painted((0.05, 0.028, 0.018), rough=0.32))
        self.hand_wood = loaded(wooden(41, HAND, su=0.6, sv=0.6))
        self.string = loaded(painted((0.25, 0.22, 0.18), rough=0.6))
        self.boot, self.ball = file_of(geometry.lathe(BOOT, 60, 60)), file_of(ball())
        self.palm, self.finger = file_of(geometry.lathe(PALM, 40, 40)), file_of(geometry.lathe(FINGER, 24, 24))

    def place(self, scene: Scene, at: Any, pose: Pose, strings: float = 14.0) -> Any:
        """Put the puppet into a scene, hung on strings of a height, none at 0; return where its head is."""
        trunk, head_place = trunk_at(at, pose), head_at(at, pose)
        self._coat(scene, trunk)
        self._head(scene, head_place, pose)
        ends = [*self._legs(scene, at @ T().translate([0, 2.25 + pose.bob, 0]), pose), *self._arms(scene, trunk, pose)]
        if strings:
            ends += [head_place @ mi.ScalarPoint3f(side * 0.75, 0.35, 0) for side in (-1, 1)]
            top = np.array(at @ mi.ScalarPoint3f(0, strings, 0)).ravel()
            for end in (np.array(each).ravel() for each in ends):
                up = top + np.array([(end[0] - top[0]) * 0.95, 0, (end[2] - top[2]) * 0.3])
                self._tube(scene, "string", np.linspace(end, up, 4), 0.011, self.string, T(), "strings")
        return head_place

    def _put(self, scene: Scene, name: str, shape: Plain, matter: Any, at: Any, group: str = "body") -> None:
        scene.add(name, shape | {"bsdf": matter, "to_world": at}, group)

    def _tube(
        self, scene: Scene, name: str, way: np.ndarray, thick: Any, matter: Any, at: Any, group: str = "body"
    ) -> None:
        scene.mesh(name, geometry.tube(way, thick, 28), matter, at, group)

    def _coat(self, scene: Scene, trunk: Any) -> None:
        self._put(scene, "coat", self.coat, self.coat_cloth, trunk @ T().scale([1, 1, 0.74]))
        self._put(scene, "ruff", self.ruff, self.ruff_cloth, trunk @ T().translate([0, 0.06, 0]))
        for number in range(5):
            y = -0.45 - 0.34 * number
            out = float(np.interp(-y, [0.42, 0.9, 1.3, 1.75, 2.25], [0.86, 0.80, 0.70, 0.86, 1.08])) * 0.74 + 0.03
            at = trunk @ T().translate([0.02, y, out]).rotate([1, 0, 0], 90).scale(1.05)
            self._put(scene, "button", self.button, self.copper, at)

    def _head(self, scene: Scene, at: Any, pose: Pose) -> None:
        self._put(scene, "head", self.head, self.skin, at, "head")
        for side in (-1, 1):
            socket = at @ T().translate([side * head.EX, head.EY, head.EZ])
            turned = socket.rotate([0, 1, 0], float(pose.look[0])).rotate([1, 0, 0], float(pose.look[1]))
            self._put(scene, "eye", self.eye, self.eye_glass, turned, "eyes")
        scene.curves("hair", self.hair, self.hair_matter, at, "hair")

    def _legs(self, scene: Scene, hips: Any, pose: Pose) -> list[Any]:
        """Put both legs; return the knees, by which they hang."""
        knees = []
        for side, (swing, bend) in ((-1, pose.left_leg), (1, pose.right_leg)):
            a, b = np.radians(swing), np.radians(swing - bend)
            hip = np.array([side * 0.34, 0.1, 0])
            knee = hip + 1.02 * np.array([0, -np.cos(a), np.sin(a)])
            ankle = knee + 0.92 * np.array([0, -np.cos(b), np.sin(b)])
            way = geometry.smooth_curve([hip, (hip + knee) / 2, knee, (knee + ankle) / 2, ankle], 24)
            thick = np.interp(np.linspace(0, 1, 24), [0, 0.5, 0.9, 1], [0.30, 0.24, 0.22, 0.24])
            self._tube(scene, "leg", way, thick, self.trouser_cloth, hips)
            foot = hips @ T().translate(ankle.tolist()).rotate([1, 0, 0], -float(swing - bend) * 0.75)
            self._put(scene, "boot", self.boot, self.leather, foot @ T().translate([0, -0.42, 0]))
            toe = foot @ T().translate([0, -0.27, 0.22]).scale([0.235, 0.155, 0.38])
            self._put(scene, "toe", self.ball, self.leather, toe)
            knees.append(hips @ mi.ScalarPoint3f(*knee))
        return knees

    def _arms(self, scene: Scene, trunk: Any, pose: Pose) -> list[Any]:
        """Put both arms; return the wrists, by which they hang."""
        wrists = []
        for side, (swing, bend), wide in ((-1, pose.left_arm, pose.spread[0]), (1, pose.right_arm, pose.spread[1])):
            a, b, c = np.radians(swing), np.radians(swing + bend), np.radians(wide)
            shoulder = np.array([side * 0.72, -0.32, 0])
            elbow = shoulder + np.array([side * np.sin(c) * np.cos(a), -np.cos(a) * np.cos(c), np.sin(a)])
            lower = np.array([side * np.sin(c * 0.5) * np.cos(b), -np.cos(b) * np.cos(c * 0.5), np.sin(b)])
            wrist = elbow + 0.86 * lower
            seam = shoulder + np.array([-side * 0.1, 0.2, 0])
            way = geometry.smooth_curve([seam, shoulder, (shoulder + elbow) / 2, elbow, (elbow + wrist) / 2, wrist], 60)
            self._tube(scene, "arm", way, _sleeve(way), self.coat_cloth, trunk)
            self._hand(scene, trunk, wrist, wrist - elbow, side)
            wrists.append(trunk @ mi.ScalarPoint3f(*wrist))
        return wrists

    def _hand(self, scene: Scene, trunk: Any, wrist: np.ndarray, along: np.ndarray, side: int) -> None:
        way = along / np.linalg.norm(along)
        yaw, pitch = np.degrees(np.arctan2(way[0], way[2])), np.degrees(np.arccos(np.clip(way[1], -1, 1)))
        turned = T().translate(wrist.tolist()).rotate([0, 1, 0], float(yaw)).rotate([1, 0, 0], float(pitch))
        hand = trunk @ turned.translate([0, 0.02, 0])
        self._put(scene, "palm", self.palm, self.hand_wood, hand @ T().scale([1, 1, 0.55]))
        for number in range(4):
            bent = T().translate([-0.10 + 0.066 * number, 0.34, 0]).rotate([0, 0, 1], 9 - 6.0 * number)
            self._put(scene, "finger", self.finger, self.hand_wood, hand @ bent.rotate([1, 0, 0], 14))
        thumb = T().translate([-side * 0.12, 0.14, 0.02]).rotate([0, 0, 1], side * 38.0)
        self._put(scene, "thumb", self.finger, self.hand_wood, hand @ thumb)


def place_head(scene: Scene, at: Any, strands: int, look: tuple[float, float], seed: int = 5) -> None:
    """Put a head alone into a scene, for a portrait."""
    skin = loaded(skin_of(3072, paint.SKIN, seed))
    key = scene.mesh("head", head.head(), skin, at, "head")
    scene.marks[key] = {"lips": paint.paint(3072, paint.SKIN, seed).lips}
    shape, glass = eye_shape()
    for side in (-1, 1):
        socket = at @ T().translate([side * head.EX, head.EY, head.EZ])
        turned = socket.rotate([0, 1, 0], look[0]).rotate([1, 0, 0], look[1])
        scene.add("eye", shape | {"bsdf": glass, "to_world": turned}, "eyes")
    scene.curves("hair", strands_file(*hair.hair(strands, seed + 1)), hair.matter(), at, "hair")
