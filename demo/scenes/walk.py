"""A clip: a puppet walks over the stage, bobs, turns its head, passes behind a pillar, leaves the frame, comes back.

6 seconds, the camera pans a little. The empty stage is traced once, larger than a frame, and so is each pose of the
walk, alone; a frame lays the pose where the puppet is, behind the pillar's exact matte. On its way back the puppet is
seen mirrored. ``python -m demo.scenes.walk``
"""

import time
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from demo.scenes.kit import clip, head, sound
from demo.scenes.kit.files import CACHE
from demo.scenes.kit.lens import Look, codes, developed, encoded
from demo.scenes.kit.puppet import PUPPET, Pose, Puppet, face_in, face_of, head_at
from demo.scenes.kit.stage import PILLARS, Lantern, stage
from demo.scenes.kit.tracing import Plain, Scene, T, camera, mattes, project, trace

RATE, FRAMES = 24, 144
FOV, EYE = 47.0, np.array([0.0, 3.55, 15.5])
#: the empty stage is traced with this field, wide enough for the pan
WIDE_FOV, WIDE = 55.0, (1540, 800)
#: a pose is traced in so many pixels, as large as in a frame
POSE_SIZE = (560, 720)
LANTERNS = (
    ((-4.2, 6.6, -2.5), 1.0),
    ((-1.9, 5.9, -3.2), 0.9),
    ((0.7, 6.5, -2.8), 1.0),
    ((5.0, 6.0, -2.2), 1.0),
    ((7.4, 6.8, -3.0), 0.9),
    ((10.0, 6.2, -2.6), 0.95),
)
#: frames in which the puppet is off, between its two ways; frames of a pair of steps, and of a turn of the head
OFF, BACK, STEPS, POSES = 84, 92, 16, 32
START, EDGE, PACE = -5.0, 8.2, 0.14
LINE = 0.2
FOLDER = CACHE / "walk"
LOOK = Look(glow=0.09, falloff=0.22, grain=0.008, fringe=0)
SAMPLES, COVER = 10, 32


def eased(first: float, last: float, at: float) -> float:
    """Return 0 before, 1 after, and a soft way between."""
    share = np.clip((at - first) / (last - first), 0, 1)
    return float(share * share * (3 - 2 * share))


def pose(number: int) -> Pose:
    """Return one of the poses of the walk."""
    phase, slow = 2 * np.pi * number / STEPS, 2 * np.pi * number / POSES
    stride = 30 * np.sin(phase)
    return Pose(
        left_leg=(stride, 8 + 14 * max(0.0, -np.cos(phase))),
        right_leg=(-stride, 8 + 14 * max(0.0, np.cos(phase))),
        left_arm=(-24 * np.sin(phase), 22),
        right_arm=(24 * np.sin(phase), 22),
        head=(-14 + 24 * np.sin(slow), 3 * np.sin(phase), 5 * np.sin(slow)),
        lean=(2 * np.sin(phase), 5),
        look=(-8, 0),
    )


@dataclass(frozen=True)
class Place:
    """Where the puppet is in a frame: along the stage, how high, in which pose, and whether it is on its way back."""

    x: float
    up: float
    pose: int
    back: bool


def place(frame: int) -> Place | None:
    """Return where the puppet is, or None while it is off."""
    up = 0.10 * abs(np.sin(2 * np.pi * frame / STEPS))
    if frame < OFF:
        return Place(START + (EDGE - START) * frame / OFF, up, frame % POSES, back=False)
    if frame < BACK:
        return None
    return Place(EDGE - PACE * (frame - BACK), up, frame % POSES, back=True)


def turn(frame: float) -> tuple[float, float]:
    """Return the camera's yaw and pitch in degrees: a pan that lags behind the puppet, and a hand's unrest."""
    yaw = 1.6 * eased(10, 70, frame) - 1.0 * eased(94, 136, frame) + 0.06 * np.sin(frame * 0.9)
    return float(yaw + 0.05 * np.sin(frame * 0.37)), float(0.08 * np.sin(frame * 0.23))


def target(frame: float) -> np.ndarray:
    """Return a place the camera looks at."""
    yaw, pitch = np.radians(turn(frame))
    return EYE + 15 * np.array([np.sin(yaw), np.sin(pitch), -np.cos(yaw)])


def pixels(places: Any, frame: float) -> np.ndarray:
    """Return where world places stand in a frame, and how deep."""
    return project(places, EYE, target(frame), FOV, clip.WIDE, clip.HIGH)


def lit(scene: Scene) -> Scene:
    """Return the scene with the stage's lights."""
    scene.window("key", (-1.5, 15, 9), (1, 2, 0), (1.8, 1.3), (60, 48, 34))
    scene.window("front", (-5, 4, 14), (0, 3.5, 0), (1.2, 1.2), (9, 7.6, 6))
    scene.window("back", (8, 10, -3), (1, 3, 0), (1, 1), (14, 20, 34))
    scene.around(0.10, 0.10, 0.13)
    return scene


def kept(name: str, make: Any) -> np.ndarray:
    """Return an array from the cache, made where it is not there."""
    path = FOLDER / f"{name}.npy"
    if not path.exists():
        begun = time.time()
        np.save(path, make().astype("f2"))
        print(f"{name} {time.time() - begun:.0f} s", flush=True)
    return np.load(path).astype("f4")


def _stage() -> tuple[np.ndarray, np.ndarray]:
    """Return the empty stage in linear light, as seen without pan, and the matte of the pillar in front."""
    view = camera(EYE, EYE - (0, 0, 15), WIDE_FOV, *WIDE)

    def light() -> np.ndarray:
        scene, lantern = Scene(), Lantern()
        stage(scene)
        for number, (at, size) in enumerate(LANTERNS):
            lantern.place(scene, at, size, 14.0, cord=7, turn=60.0 * number)
        return trace(lit(scene), view, 20, depth=5, limit=30)

    def pillar() -> np.ndarray:
        scene = Scene()
        stage(scene)
        nearest = max(range(len(PILLARS)), key=lambda number: PILLARS[number][1])
        name = [each for each, group in scene.group.items() if group == "pillar"][nearest]
        scene.shapes, scene.group = {name: scene.shapes[name]}, {name: "pillar"}
        return mattes(scene, view, [("pillar",)], 48)[..., 0]

    return kept("stage", light), kept("pillar", pillar)


def pose_view() -> Plain:
    """Return the camera that sees a pose alone, in the middle, as large as in a frame."""
    scale = clip.WIDE / 2 / np.tan(np.radians(FOV) / 2)
    fov = float(np.degrees(2 * np.arctan(POSE_SIZE[0] / 2 / scale)))
    return {"origin": EYE, "target": EYE - (0, 0, 15), "fov": fov, "width": POSE_SIZE[0], "height": POSE_SIZE[1]}


def pose_at() -> Any:
    """Return where a pose is traced."""
    return T().translate([0, 0, LINE]).rotate([0, 1, 0], 56.0)


class Poses:
    """The poses of the walk, traced when they are first asked for: light, and mattes of face and puppet."""

    def __init__(self) -> None:
        self._puppet: Puppet | None = None
        self._held: dict[int, tuple[np.ndarray, np.ndarray]] = {}

    def of(self, number: int) -> tuple[np.ndarray, np.ndarray]:
        """Return light, shape (H, W, 3), already weighed by the puppet's matte, and mattes, shape (H, W, 2)."""
        if number not in self._held:
            light = kept(f"pose_{number}", lambda: trace(lit(self._scene(number)), self._view(), SAMPLES, depth=4))
            covers = kept(f"covers_{number}", lambda: self._covers(number))
            self._held[number] = light * np.clip(covers[..., 1:], 0, 1), covers
        return self._held[number]

    def _view(self) -> Plain:
        return camera(**pose_view())

    def _scene(self, number: int) -> Scene:
        self._puppet = self._puppet or Puppet(strands=2600, step=0.014, detail=1536)
        scene = Scene()
        self._puppet.place(scene, pose_at(), pose(number))
        return scene

    def _covers(self, number: int) -> np.ndarray:
        return mattes(self._scene(number), self._view(), [("head", "eyes"), (*PUPPET, "strings")], COVER, seed=number)


def stage_onto(frame: float) -> np.ndarray:
    """Return the homography from the empty stage's pixels to a frame's: the camera only turns."""
    corners = np.array([[-5.0, 1, 0], [5, 1, 0], [5, 6, 0], [-5, 6, 0]])
    before = project(corners, EYE, EYE - (0, 0, 15), WIDE_FOV, *WIDE)[:, :2] - 0.5
    after = pixels(corners, frame)[:, :2] - 0.5
    return cv2.getPerspectiveTransform(before.astype("f4"), after.astype("f4"))


def pose_onto(there: Place, frame: int) -> np.ndarray:
    """Return how a traced pose is laid into a frame: moved, and mirrored on the way back."""
    x, y = pixels([[there.x, EYE[1] + there.up, LINE]], frame)[0, :2]
    side = -1.0 if there.back else 1.0
    return np.array([[side, 0, x - 0.5 - side * (POSE_SIZE[0] / 2 - 0.5)], [0, 1, y - POSE_SIZE[1] / 2], [0, 0, 1.0]])


def shadow(there: Place, frame: int) -> np.ndarray:
    """Return how much of the light the puppet takes from the floor under it, shape (H, W)."""
    angle = np.linspace(0, 2 * np.pi, 60)
    ring = np.stack([there.x + 0.12 + 0.95 * np.cos(angle), 0 * angle, LINE - 0.2 + 0.6 * np.sin(angle)], 1)
    made = np.zeros((clip.HIGH, clip.WIDE), np.float32)
    cv2.fillPoly(made, [np.rint(pixels(ring, frame)[:, :2]).astype(np.int32)], 0.6)
    return cv2.GaussianBlur(made, (0, 0), 13)


def told(there: Place, frame: int) -> dict[str, Any]:
    """Return what is true of the face in a frame, but how much of it is hidden."""
    matrix = np.array(head_at(pose_at(), pose(there.pose)).matrix)
    places = np.c_[np.array([head.MIDDLE, *head.FACE]), np.ones(len(head.FACE) + 1)] @ matrix.T
    seen = project(places[:, :3], **pose_view())[:, :2] - 0.5
    moved = cv2.perspectiveTransform(seen[None].astype(np.float64), pose_onto(there, frame))[0] + 0.5
    still = face_in(head_at(pose_at(), pose(there.pose)), pose_view(), *POSE_SIZE)
    side = -1 if there.back else 1
    face = face_of(moved, side * still["turn"], side * still["tilt"])
    left, top, right, low = face["box"]
    shown = max(0.0, min(right, clip.WIDE) - max(left, 0)) * max(0.0, min(low, clip.HIGH) - max(top, 0))
    return face | {"inside": round(float(shown / ((right - left) * (low - top))), 4)}


def frames() -> Any:
    """Yield each frame's light, its mattes (face, puppet) and what is true of it."""
    base, pillar = _stage()
    poses = Poses()
    for frame in range(FRAMES):
        yaw, pitch = turn(frame)
        truth: dict[str, Any] = {"frame": frame, "camera": {"yaw": round(yaw, 4), "pitch": round(pitch, 4)}}
        made, there = clip.warped(base, stage_onto(frame)), place(frame)
        covers = np.zeros((clip.HIGH, clip.WIDE, 2), np.float32)
        if there is not None:
            light, own = poses.of(there.pose)
            onto = pose_onto(there, frame)
            free = np.clip(clip.warped(own, onto, finer=2), 0, 1)
            seen = 1 - np.clip(clip.warped(pillar, stage_onto(frame), finer=2), 0, 1)
            covers = free * seen[..., None]
            made = made * (1 - shadow(there, frame) * seen)[..., None]
            made = made * (1 - covers[..., 1:]) + clip.warped(light, onto, finer=2) * seen[..., None]
            whole = float(own[..., 0].sum())
            truth["face"] = told(there, frame) | {
                "pixels": round(float(covers[..., 0].sum()), 1),
                "visible": round(float(covers[..., 0].sum()) / whole, 4),
                "hidden": round(1 - float(covers[..., 0].sum()) / max(float(free[..., 0].sum()), 1e-6), 4),
            }
        yield made, covers, truth


def main() -> None:
    """Render the clip, its small lossless twin, mattes and truth."""
    FOLDER.mkdir(exist_ok=True)
    large, small, truths = [], [], []
    quiet = Look(glow=LOOK.glow, falloff=LOOK.falloff, grain=0, fringe=0)
    for light, covers, truth in frames():
        frame = truth["frame"]
        large.append(codes(encoded(developed(light, LOOK, seed=frame)), seed=frame))
        tiny = cv2.resize(developed(light, quiet), (480, 270), interpolation=cv2.INTER_AREA)
        small.append(codes(encoded(tiny), seed=frame))
        truths.append(truth)
        for number, subject in enumerate(("face", "puppet")):
            clip.save_matte("walk", subject, frame, covers[..., number])
    steps = [each / RATE for each in range(4, FRAMES, STEPS // 2) if place(each) is not None]
    heard = sound.track(FRAMES / RATE, steps)
    clip.write("walk", large, str(RATE), heard)
    clip.write("walk_lossless", small, str(RATE), heard, lossless=True)
    size = {"width": clip.WIDE, "height": clip.HIGH, "rate": [RATE, 1], "fov": FOV}
    clip.save_truth("walk", {**size, "frames": truths})


if __name__ == "__main__":
    main()
