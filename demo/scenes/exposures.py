"""Three short shots of the wood at different exposures, the first with a lens that falls off towards the corners.

Taken from the still's linear light (render ``g_wood`` first). ``python -m demo.scenes.exposures``
"""

from dataclasses import dataclass

import numpy as np

from demo.scenes.kit import clip, sound
from demo.scenes.kit.files import CACHE
from demo.scenes.kit.lens import Look, codes, developed, encoded

RATE, FRAMES = 25, 50


@dataclass(frozen=True)
class Shot:
    """A shot: exposure in stops, stops lost in the corners, and the view's middle and size before and after.

    Middles are shares of the still's width and height, sizes its width in stills.
    """

    name: str
    stops: float
    corner: float
    first: tuple[float, float, float]
    last: tuple[float, float, float]


SHOTS = (
    Shot("wood_1", 0.0, 1.4, (0.50, 0.52, 0.98), (0.50, 0.52, 0.90)),
    Shot("wood_2", -0.8, 0.0, (0.62, 0.50, 0.70), (0.66, 0.52, 0.70)),
    Shot("wood_3", 0.7, 0.0, (0.38, 0.55, 0.74), (0.44, 0.55, 0.74)),
)


def fallen(corner: float) -> np.ndarray:
    """Return the share of the light that is left at each pixel: by cos⁴, so many stops in the corners."""
    y, x = np.mgrid[: clip.HIGH, : clip.WIDE]
    away = np.hypot(x - (clip.WIDE - 1) / 2, y - (clip.HIGH - 1) / 2) / np.hypot(clip.WIDE / 2, clip.HIGH / 2)
    # cos⁴ of an angle whose tangent grows with the distance: 2^−corner where it is 1
    tangent = np.sqrt(2 ** (corner / 2) - 1)
    return (1 / (1 + (away * tangent) ** 2) ** 2).astype("f4")


def main() -> None:
    """Render the shots and their truth."""
    light = np.load(CACHE / "g_wood.npy").astype("f4")
    high, wide = light.shape[:2]
    for number, shot in enumerate(SHOTS):
        told, frames, lens = [], [], fallen(shot.corner)[..., None]
        for frame in range(FRAMES):
            share = frame / (FRAMES - 1)
            middle_x, middle_y, size = np.array(shot.first) * (1 - share) + np.array(shot.last) * share
            scale = clip.WIDE / (size * wide)
            to = np.array(
                [
                    [scale, 0, clip.WIDE / 2 - scale * middle_x * wide],
                    [0, scale, clip.HIGH / 2 - scale * middle_y * high],
                    [0, 0, 1],
                ]
            )
            made = clip.warped(light, to) * 2**shot.stops * lens
            look = Look(glow=0.08, falloff=0, fringe=0)
            frames.append(codes(encoded(developed(made, look, seed=frame + 100 * number)), seed=frame))
            told.append({"frame": frame, "camera": [[round(float(each), 5) for each in row] for row in to]})
        clip.write(shot.name, frames, str(RATE), sound.track(FRAMES / RATE, seed=7 + number), quality=23)
        size = {"width": clip.WIDE, "height": clip.HIGH, "rate": [RATE, 1]}
        clip.save_truth(shot.name, {**size, "exposure": shot.stops, "corner": shot.corner, "frames": told})


if __name__ == "__main__":
    main()
