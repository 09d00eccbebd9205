"""Covers undone by who knows the font: each digit in turn is rendered, covered in the same way, and compared.

A cover that claims to conceal lettering must give such a reader nothing; one that is called weak must really be: where
guessing finds one digit in ten, it gives up more.
"""

from unittest import TestCase

import cv2
import numpy as np

from calado.colour.spaces import SRGB
from calado.inspect.concealed import read_concealed
from calado.inspect.letters import letter_height
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.models import Part, Pass, Region, Sheet, Treatment
from demo.truths import TRUTH, truth

STILLS = TRUTH.parent / "stills"
FONT, LETTER = cv2.FONT_HERSHEY_DUPLEX, 40
HIGH, WIDE, LEFT, BASE = 128, 320, 30, 84
DIGITS, KEPT, PLATES = 6, 4, 2
REGION = Region(
    id="r",
    name="r",
    parts=(
        Part(
            id="p",
            kind="rectangle",
            values={"x": WIDE / 2 / HIGH, "y": 66 / HIGH, "width": (WIDE - 20) / HIGH, "height": 72 / HIGH},
        ),
    ),
)


def plate(text: str) -> tuple[np.ndarray, int]:
    """Return a plate in linear light, shape (3, H, W), and where its last digit ends."""
    codes = np.full((HIGH, WIDE), 235, np.uint8)
    scale, x = cv2.getFontScaleFromHeight(FONT, LETTER, 2), LEFT
    for digit in text:
        cv2.putText(codes, digit, (x, BASE), FONT, scale, 20, 2, cv2.LINE_AA)
        x += cv2.getTextSize(digit, FONT, scale, 2)[0][0]
    light = SRGB.transfer.decode(codes / 255).astype(np.float32)
    return np.repeat(light[None], 3, axis=0), x


def covered(planes: np.ndarray, treatment: Treatment, secret: int = 1) -> np.ndarray:
    """Return the codes of a plate under its cover, shape (H, W)."""
    source = source_of(planes, SRGB)
    sheet = Sheet(regions=(REGION,), passes=(Pass(id="a", name="a", region="r", inside=treatment),))
    made = Engine(2**20, secret=secret).picture(source, Order(sheet), source.full())
    return np.rint(255 * SRGB.transfer.encode(np.clip(made[0], 0, 1))).astype(np.float32)


def read_back(seen: np.ndarray, treatment: Treatment) -> str:
    """Return the digits whose rendering under the same cover is likest to what is seen, from left to right."""
    begun = [""]
    for place in range(DIGITS):
        tried = []
        for text in (before + digit for before in begun for digit in "0123456789"):
            planes, end = plate(text)
            upto = WIDE if place == DIGITS - 1 else end - 4
            away = np.square(covered(planes, treatment, secret=2)[:, :upto] - seen[:, :upto]).mean()
            tried.append((float(away), text))
        begun = [text for _, text in sorted(tried)[:KEPT]]
    return begun[0]


def share_read(treatment: Treatment) -> float:
    """Return the share of digits that are read back right."""
    rng, right = np.random.default_rng(1), 0
    for _ in range(PLATES):
        text = "".join(rng.choice(list("0123456789"), DIGITS))
        found = read_back(covered(plate(text)[0], treatment), treatment)
        right += sum(one == other for one, other in zip(text, found, strict=True))
    return right / (PLATES * DIGITS)


def verdict(treatment: Treatment) -> bool:
    """Return whether a cover over a plate is said to be weak."""
    planes = plate("407229")[0]
    matte = np.zeros((HIGH, WIDE), np.float32)
    matte[30:102, 10:-10] = 1
    read = read_concealed(planes, planes * 0 + 0.5, matte, 1 / HIGH, treatment)
    assert read is not None
    return read.weak


class Undone(TestCase):
    def test_cells_smaller_than_a_letter_are_undone_whole(self) -> None:
        small = {"mosaic": {"size": 0.4 * LETTER / HIGH}}
        self.assertGreater(share_read(small), 0.8)
        self.assertTrue(verdict(small))

    def test_larger_cells_and_a_blur_still_give_up_more_than_guessing_finds(self) -> None:
        for treatment in ({"mosaic": {"size": 1.6 * LETTER / HIGH}}, {"scramble": {"radius": 0.3 * LETTER / HIGH}}):
            self.assertGreater(share_read(treatment), 0.2)
            self.assertTrue(verdict(treatment))
        self.assertTrue(verdict({"mosaic": {"size": 2.5 * LETTER / HIGH}}))

    def test_a_solid_gives_up_none(self) -> None:
        one, two = (covered(plate(text)[0], {"solid": {"amount": 1.0}}) for text in ("407229", "118888"))
        np.testing.assert_array_equal(one, two)


def still(name: str) -> np.ndarray:
    """Return a still of the demo in linear light, shape (3, H, W)."""
    codes = cv2.imread(str(STILLS / f"{name}.png"))
    assert codes is not None
    return np.ascontiguousarray(SRGB.transfer.decode(codes[..., ::-1] / 255).astype(np.float32).transpose(2, 0, 1))


class Heights(TestCase):
    def test_of_the_booth_s_lines_upright_and_turned(self) -> None:
        planes, lines = still("e_booth"), truth().stills["e_booth"].regions
        high, wide = planes.shape[1:]
        for turn in (0, 20, 45):
            way = cv2.getRotationMatrix2D((1200.0, 600.0), turn, 1.0)
            turned = np.stack([cv2.warpAffine(each, way, (wide, high), flags=cv2.INTER_AREA) for each in planes])
            for line in lines:
                corners = np.array(line.polygon) @ way[:, :2].T + way[:, 2]
                if corners.min() < 0 or (corners > (wide, high)).any():
                    continue
                mask = np.zeros((high, wide), np.uint8)
                cv2.fillPoly(mask, [np.rint(corners).astype(np.int32)], 1)
                found = letter_height(turned, cv2.dilate(mask, np.ones((5, 5))) > 0)
                tall = float(np.linalg.norm(np.subtract(line.polygon[3], line.polygon[0])))
                self.assertTrue(0.5 * tall < (found or 0) < 1.35 * tall, f"{line.text} at {turn}°: {found}")

    def test_a_face_is_no_lettering_of_its_own_size(self) -> None:
        for name in ("a_bench", "b_portrait", "e_booth", "f_night"):
            planes = still(name)
            for face in truth().stills[name].faces:
                left, top, right, bottom = (round(each) for each in face.box)
                mask = np.zeros(planes.shape[1:], np.uint8)
                middle, half = ((left + right) // 2, (top + bottom) // 2), ((right - left) // 2, (bottom - top) // 2)
                cv2.ellipse(mask, middle, half, 0, 0, 360, 1, -1)
                self.assertLess(letter_height(planes, mask > 0) or 0, 0.08 * face.size, name)
