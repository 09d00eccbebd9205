"""A clip: the booth, its notice, and a plate swinging on the cart; a hand-held camera; 5 seconds at 30000/1001.

The booth is traced once, without the plate; the plate is laid on by the projection of its corners, so its matte is
exact. ``python -m demo.scenes.swing``
"""

import cv2
import numpy as np

from demo.scenes import e_booth
from demo.scenes.kit import clip, sound
from demo.scenes.kit.cart import cart
from demo.scenes.kit.files import CACHE
from demo.scenes.kit.lens import Look, codes, developed, encoded
from demo.scenes.kit.tracing import Scene, T, camera, trace

RATE, FRAMES = "30000/1001", 150
SECOND = 30000 / 1001
#: the traced booth is larger than a frame, so that the camera has room to shake
BASE = (1600, 900)
ROOM = (BASE[0] - clip.WIDE) / 2
#: the plate hangs from a nail: where, and the plate's lowest and highest y below it, half its width
NAIL, HANG, HALF = (-1.215, 1.12), (-0.46, -0.26), 0.34
TEXTURE = (680, 200)
LOOK = Look(exposure=0.95, glow=0.04, grain=0.010, fringe=0)
SWING, PER_SECOND = 13.0, 0.55
LIGHT = np.array([0.80, 0.72, 0.62])


def swing(frame: int) -> float:
    """Return how far the plate is turned about its nail, in degrees; it slows a little."""
    t = frame / SECOND
    return float(SWING * np.exp(-0.12 * t) * np.sin(2 * np.pi * PER_SECOND * t + 0.6))


def shake(frame: int) -> np.ndarray:
    """Return what the camera does to the traced picture: a few pixels of shift, a little roll."""
    t = frame / SECOND
    x = 4.0 * np.sin(2 * np.pi * 0.7 * t) + 2.2 * np.sin(2 * np.pi * 1.9 * t + 1.0) + 0.8 * np.sin(2 * np.pi * 4.3 * t)
    y = 3.0 * np.sin(2 * np.pi * 0.9 * t + 2.0) + 1.6 * np.sin(2 * np.pi * 2.3 * t)
    roll = np.radians(0.25 * np.sin(2 * np.pi * 0.6 * t + 0.4))
    c, s = np.cos(roll), np.sin(roll)
    middle = np.array([(BASE[0] - 1) / 2, (BASE[1] - 1) / 2])
    turn = np.array([[c, -s], [s, c]])
    shift = middle - turn @ middle + np.array([x - ROOM, y - (BASE[1] - clip.HIGH) / 2])
    return np.array([[c, -s, shift[0]], [s, c, shift[1]], [0, 0, 1.0]])


def _texture() -> tuple[np.ndarray, np.ndarray]:
    """Return the plate with its two strings, linear, and where it covers; its top is the nail's height."""
    wide, high = TEXTURE
    per = wide / (2 * HALF)
    whole = round(-HANG[0] * per)
    face = cv2.resize(e_booth.plate(), (wide, high), interpolation=cv2.INTER_AREA)
    colour = np.zeros((whole, wide, 3), np.float32)
    cover = np.zeros((whole, wide), np.float32)
    for side in (0.12, 0.88):
        cv2.line(cover, (wide // 2, 0), (round(side * wide), whole - high + 8), 1.0, 5, cv2.LINE_AA)
    colour[cover > 0] = (0.05, 0.04, 0.03)
    colour[whole - high :], cover[whole - high :] = face, 1.0
    return colour, cover


def corners(frame: int) -> np.ndarray:
    """Return the pixels, in the traced picture, of the texture's four corners."""
    turned = np.radians(swing(frame))
    c, s = np.cos(turned), np.sin(turned)
    places = []
    for z, y in ((-HALF, 0.0), (HALF, 0.0), (HALF, HANG[0]), (-HALF, HANG[0])):
        places.append((NAIL[0], NAIL[1] + c * y - s * z, s * y + c * z))
    view = {**e_booth.VIEW, "fov": FOV}
    world = np.c_[np.array(places), np.ones(4)] @ np.array(e_booth.cart_at().matrix).T
    return e_booth.project(world[:, :3], **view, width=BASE[0], height=BASE[1])[:, :2]


FOV = 66.0


def booth() -> np.ndarray:
    """Return the booth without a plate, in linear light."""
    kept = CACHE / "swing.npy"
    if not kept.exists():
        scene: Scene = e_booth.build(with_cart=False)
        cart(scene, e_booth.cart_at())
        view = camera(**{**e_booth.VIEW, "fov": FOV}, width=BASE[0], height=BASE[1], aperture=0.018, focus=5.6)
        np.save(kept, trace(scene, view, 12).astype("f4"))
    return np.load(kept)


def notice_lines(to: np.ndarray) -> list[dict[str, object]]:
    """Return the private lines of the notice: text, and corners in a frame."""
    (wide, high), (across, down) = e_booth.NOTICE_SIZE, e_booth.PAPER
    front = np.array((e_booth.notice_at() @ T().translate([0, 0, 0.034])).matrix)
    found = []
    for text, (left, top, right, low) in e_booth.notice()[1]:
        sides = ((left, top), (right, top), (right, low), (left, low))
        places = [((x / across - 0.5) * wide, (0.5 - y / down) * high, 0, 1) for x, y in sides]
        view = {**e_booth.VIEW, "fov": FOV}
        pixels = e_booth.project((np.array(places) @ front.T)[:, :3], **view, width=BASE[0], height=BASE[1])[:, :2]
        found.append({"text": text, "polygon": carried(pixels, to)})
    return found


def carried(pixels: np.ndarray, to: np.ndarray) -> list[list[float]]:
    """Return pixels, centres at .5, carried by a homography that counts them from 0."""
    flat = cv2.perspectiveTransform((pixels - 0.5)[None].astype(np.float64), to)[0] + 0.5
    return [[round(float(x), 2), round(float(y), 2)] for x, y in flat]


def main() -> None:
    """Render the clip and its truth."""
    base, (colour, cover) = booth().astype("f4"), _texture()
    high, wide = cover.shape
    sides = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32) - 0.5
    light = colour * cover[..., None] * LIGHT.astype("f4")
    told, frames = [], []
    for frame in range(FRAMES):
        move = shake(frame)
        places = corners(frame)
        onto = cv2.getPerspectiveTransform(sides, (places - 0.5).astype(np.float32))
        shade = cv2.GaussianBlur(cv2.warpPerspective(cover, onto, BASE), (0, 0), 3.5)
        fallen = np.roll(shade, (6, 5), axis=(0, 1))[..., None]
        made = clip.warped(base * (1 - 0.6 * fallen), move)
        matte = clip.warped(cover, move @ onto, finer=3)
        made = made * (1 - matte[..., None]) + clip.warped(light, move @ onto, finer=3)
        frames.append(codes(encoded(developed(made, LOOK, seed=frame)), seed=frame))
        clip.save_matte("swing", "plate", frame, matte)
        top = (high - TEXTURE[1]) / high
        face = np.array([places[k] + (places[3 - k] - places[k]) * top for k in (0, 1)])
        polygon = carried(np.array([face[0], face[1], places[2], places[3]]), move)
        told.append(
            {
                "frame": frame,
                "camera": [[round(float(each), 6) for each in row] for row in move],
                "plate": {"text": e_booth.PLATE_SAYS, "polygon": polygon, "turn": round(swing(frame), 3)},
                "lines": notice_lines(move),
            }
        )
    clip.write("swing", frames, RATE, sound.track(FRAMES / SECOND, seed=5))
    clip.save_truth("swing", {"width": clip.WIDE, "height": clip.HIGH, "rate": [30000, 1001], "frames": told})


if __name__ == "__main__":
    main()
