"""What is told of the demo's pictures, against the pictures."""

from unittest import TestCase

import cv2
import numpy as np

from calado.colour.oklab import linear_to_oklab
from calado.media.stills import read_still
from demo.truths import TRUTH, schema, truth

STILLS = TRUTH.parent / "stills"
#: hue angles of OKLab, degrees, in whose middle the glazes lie (as painted)
HUES = {"red": 30, "ochre": 75, "teal": 195, "violet": 305}


def matte(name: str) -> np.ndarray:
    """Return a matte of the demo, 0…1."""
    grey = cv2.imread(str(TRUTH / name), cv2.IMREAD_UNCHANGED)
    assert grey is not None, name
    return grey.astype(np.float64) / 255


class Told(TestCase):
    def test_the_schema_is_the_one_that_is_described(self) -> None:
        self.assertEqual((TRUTH / "schema.json").read_text(), schema())

    def test_every_still_and_matte_is_there_at_its_size(self) -> None:
        told = truth()
        self.assertEqual(sorted(told.stills), sorted(path.stem for path in STILLS.glob("*.png")))
        for name, still in told.stills.items():
            samples = read_still(STILLS / f"{name}.png").samples
            self.assertEqual(samples.shape[1:], (still.height, still.width), name)
            for file in still.mattes.values():
                self.assertEqual(matte(file).shape, (still.height, still.width), file)

    def test_faces_lie_on_faces(self) -> None:
        for name, of in (("a_bench", "face"), ("b_portrait", "skin"), ("e_booth", "face"), ("f_night", "face")):
            (face,) = truth().stills[name].faces
            cover = matte(truth().stills[name].mattes[of])
            x, y = face.centre
            self.assertGreater(cover[int(y), int(x)], 0.9, name)
            left, top, right, low = (round(each) for each in face.box)
            # the box goes round the face; the head it belongs to reaches a little beyond
            self.assertGreater(cover[max(top, 0) : low, max(left, 0) : right].mean(), 0.55, name)

    def test_lips_and_eyes_and_skin_are_apart(self) -> None:
        skin, eyes, lips = (matte(f"b_portrait_{each}.png") for each in ("skin", "eyes", "lips"))
        self.assertLess(float((eyes + skin).max()), 1.02)
        self.assertGreater(float(skin[lips > 0.9].mean()), 0.98)
        light = cv2.cvtColor(cv2.imread(str(STILLS / "b_portrait.png")), cv2.COLOR_BGR2RGB).astype(float)
        red = light[..., 0] / light.sum(axis=2)
        around = (skin > 0.95) & (lips < 0.02) & (cv2.dilate(lips, np.ones((61, 61))) > 0.5)
        self.assertGreater(float(np.median(red[lips > 0.9])), float(np.median(red[around])) + 0.1)

    def test_glazes_have_the_hue_of_their_name(self) -> None:
        still = read_still(STILLS / "d_shelf.png")
        light = still.space.transfer.decode(np.moveaxis(still.samples, 0, -1).astype(np.float64) / 255)
        lab = linear_to_oklab(light, still.space)
        hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1]))
        covers = {name: matte(file) for name, file in truth().stills["d_shelf"].mattes.items()}
        self.assertLess(float(sum(covers.values()).max()), 1.02)
        for name, cover in covers.items():
            inside = (cover > 0.98) & (np.hypot(lab[..., 1], lab[..., 2]) > 0.06)
            off = (hue[inside] - HUES[name] + 180) % 360 - 180
            self.assertLess(float(np.median(np.abs(off))), 25, name)

    def test_lamps_are_where_it_is_brightest(self) -> None:
        lamps = (("b_portrait", "lamps"), ("c_dusk", "lamp"), ("c_dusk", "sun"))
        for name, of in (*lamps, *((each, "lanterns") for each in ("e_booth", "f_night", "g_wood"))):
            cover = matte(truth().stills[name].mattes[of])
            grey = cv2.imread(str(STILLS / f"{name}.png"), cv2.IMREAD_GRAYSCALE)
            # a lamp that is small and far out of focus covers its disc in part only
            inside = cover > 0.7 * cover.max()
            self.assertGreater(int(inside.sum()), 200, name)
            self.assertGreater(float(np.median(grey[inside])), 225, (name, of))
            self.assertLess(float(np.median(grey[cover == 0])), 160, (name, of))

    def test_private_lines_are_darker_than_the_paper_round_them(self) -> None:
        grey = cv2.imread(str(STILLS / "e_booth.png"), cv2.IMREAD_GRAYSCALE).astype(float)
        for line in truth().stills["e_booth"].regions:
            inside = np.zeros(grey.shape, np.uint8)
            cv2.fillPoly(inside, [np.rint(np.array(line.polygon)).astype(np.int32)], 1)
            ink, paper = np.percentile(grey[inside > 0], (3, 80))
            self.assertLess(ink, 0.65 * paper, line.text)
