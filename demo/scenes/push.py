"""A clip: a slow push towards a paper lantern, on the night stage; 4 seconds, hardly anything moves.

Two layers, each traced once: the lantern, and all behind it taken as one plane; the camera's way scales them apart. So
the lantern's matte is exact. ``python -m demo.scenes.push``
"""

import numpy as np

from demo.scenes.kit import clip, sound
from demo.scenes.kit.lens import Look, codes, developed, encoded
from demo.scenes.kit.stage import Lantern, stage
from demo.scenes.kit.tracing import Scene, camera, mattes, trace

RATE, FRAMES = 24, 96
#: how far the lantern and the drop are from the camera at first, and how far it goes
LANTERN_AWAY, DROP_AWAY, WAY = 7.8, 12.4, 1.7
ORIGIN, FOV = (0.35, 4.1, 8.4), 32.0
TARGET = (0.55, 4.32, 0.6)
HERO = (0.8, 4.4, 0.6)
SCALE = 1.3
LOOK = Look(exposure=1.05, glow=0.10, falloff=0.22, grain=0.010, fringe=0)


def _lights(scene: Scene) -> None:
    scene.window("key", (-5, 9, 9), (1, 4, 0), (1.2, 1.2), (12, 14, 20))
    scene.around(0.05, 0.055, 0.08)


def layers() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return what is behind, the lantern's own light, and its matte, all at SCALE times the clip's size."""
    size = (round(clip.WIDE * SCALE), round(clip.HIGH * SCALE))
    view = camera(ORIGIN, TARGET, FOV, *size, aperture=0.06, focus=LANTERN_AWAY - 0.5)
    behind, lantern = Scene(), Lantern()
    stage(behind)
    for number, (x, y, z, scale) in enumerate(((-3.9, 5.2, -3.0, 0.9), (-1.7, 6.0, -3.6, 0.85), (3.6, 5.4, -3.4, 0.9))):
        lantern.place(behind, (x, y, z), scale, 14.0, cord=7, turn=60.0 * number)
    _lights(behind)
    alone = Scene()
    Lantern(4).place(alone, HERO, 1.0, 5.0, cord=6, turn=30, group="hero")
    alone.group = dict.fromkeys(alone.group, "hero")
    _lights(alone)
    alone.lights.pop("around")
    matte = mattes(alone, view, [("hero",)], samples=48)[..., 0]
    return trace(behind, view, 12, depth=5, limit=30), trace(alone, view, 24, depth=5, limit=30), matte


def scales(frame: int) -> tuple[float, float]:
    """Return how much larger the lantern and the drop are than in the first frame."""
    share = frame / (FRAMES - 1)
    gone = WAY * share * share * (3 - 2 * share)
    return LANTERN_AWAY / (LANTERN_AWAY - gone), DROP_AWAY / (DROP_AWAY - gone)


def grown(scale: float) -> np.ndarray:
    """Return how a layer is laid into a frame, larger about the middle."""
    factor = scale / SCALE
    middle = np.array([(clip.WIDE - 1) / 2, (clip.HIGH - 1) / 2])
    layer = np.array([(clip.WIDE * SCALE - 1) / 2, (clip.HIGH * SCALE - 1) / 2])
    shift = middle - factor * layer
    return np.array([[factor, 0, shift[0]], [0, factor, shift[1]], [0, 0, 1.0]])


def main() -> None:
    """Render the clip and its truth."""
    behind, light, matte = layers()
    told, frames = [], []
    for frame in range(FRAMES):
        near, far = scales(frame)
        flicker = 1 + 0.03 * np.sin(frame * 0.9) + 0.02 * np.sin(frame * 2.3)
        cover = clip.warped(matte.astype("f4"), grown(near), finer=2)
        # the layer was traced on black: its light is already weighed by its matte
        front = clip.warped(light.astype("f4"), grown(near), finer=2)
        made = clip.warped(behind.astype("f4"), grown(far)) * (1 - cover[..., None]) + front * flicker
        frames.append(codes(encoded(developed(made, LOOK, seed=frame)), seed=frame))
        clip.save_matte("push", "lantern", frame, cover)
        rows, columns = np.nonzero(cover > 0.5)
        box = [int(columns.min()), int(rows.min()), int(columns.max()) + 1, int(rows.max()) + 1]
        told.append({"frame": frame, "scale": round(near, 5), "behind": round(far, 5), "lantern": {"box": box}})
    clip.write("push", frames, str(RATE), sound.track(FRAMES / RATE))
    clip.save_truth("push", {"width": clip.WIDE, "height": clip.HIGH, "rate": [RATE, 1], "frames": told})


if __name__ == "__main__":
    main()
