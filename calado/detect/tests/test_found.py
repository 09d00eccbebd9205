"""Finding: the face of scikit-image's bundled portrait, the puppets, nothing on a flat picture, and bad model files."""

import shutil
import tempfile
from dataclasses import replace
from pathlib import Path
from unittest import TestCase, mock

import cv2
import numpy as np
from skimage import data

from calado.catalogue import CATALOGUE
from calado.colour.spaces import SRGB
from calado.detect import find as finding
from calado.detect.faces import find_faces
from calado.detect.figures import find_figures
from calado.detect.find import face_offer, find, find_kind, known_offers
from calado.detect.lettering import find_lettering
from calado.detect.net import FOLDER, ModelError, run
from calado.detect.subjects import find_subjects
from calado.detect.tests.small_faces import with_small_faces
from calado.detect.tests.written import LINES, PLAIN, STILLS, Trial, covered, drawn_at, shown, still, true_lines
from calado.render.engine import Engine
from calado.render.source import source_of
from calado.sheet.check import check_sheet
from calado.sheet.models import Part, Region, Sheet


class Faces(TestCase):
    def test_the_astronauts_face(self) -> None:
        found = find_faces(np.ascontiguousarray(data.astronaut()))
        self.assertEqual(len(found), 1)
        # the cascade of scikit-image's own example puts a box of about (176, 70, 94, 94) there (its gallery)
        face = found[0]
        self.assertAlmostEqual(face.x * 512, 223, delta=16)
        self.assertAlmostEqual(face.y * 512, 117, delta=20)
        self.assertGreater(face.certainty, 0.85)

    def test_puppets_have_faces_and_jars_have_none(self) -> None:
        self.assertGreater(find_faces(still("b_portrait"))[0].certainty, 0.85)
        small = find_faces(still("e_booth"))
        self.assertEqual(len(small), 1)
        self.assertLess(small[0].height, 0.2)
        self.assertEqual(find_faces(still("d_shelf")), [])

    def test_a_cart_s_wheels_are_doubtful_at_the_second_look_and_a_carved_head_is_a_face(self) -> None:
        self.assertEqual([face.sure for face in find_faces(still("c_dusk"))], [False, False])
        self.assertEqual([face.sure for face in find_faces(still("a_bench"))], [True, True])

    def test_pictures_without_a_face_have_none_that_is_sure_however_they_are_turned(self) -> None:
        dice = np.random.default_rng(5)
        for picture in (data.coffee(), data.hubble_deep_field(), data.rocket(), still("d_shelf")):
            high, wide = picture.shape[:2]
            turn = cv2.getRotationMatrix2D((wide / 2, high / 2), dice.uniform(-25, 25), dice.uniform(0.6, 1.2))
            seen = cv2.warpAffine(picture, turn, (wide, high), borderMode=cv2.BORDER_REFLECT)
            self.assertFalse(any(face.sure for face in find_faces(seen)))

    def test_small_faces_are_found_wherever_they_are(self) -> None:
        found = false = 0
        for seed in (31, 32):
            picture, laid = with_small_faces(seed)
            sure = [face.oval for face in find_faces(picture) if face.sure and face.oval]
            on = [
                any(np.hypot(at.x * 1067 - place.x, at.y * 1067 - place.y) < 0.5 * place.height for at in sure)
                for place in laid
            ]
            found, false = found + sum(on), false + len(sure) - sum(on)
        self.assertGreaterEqual(found, 7)
        self.assertEqual(false, 0)

    def test_the_ellipse_lies_on_the_true_face(self) -> None:
        for name in ("a_bench", "e_booth", "f_night"):
            true = cv2.imread(str(STILLS.parent / "truth" / f"{name}_face.png"), cv2.IMREAD_GRAYSCALE)
            assert true is not None
            drawn = np.zeros_like(true)
            at = face_offer(find_faces(still(name), small=name == "e_booth")[0]).values
            x, y, wide, high = (float(at[each]) * 1067 for each in ("x", "y", "width", "height"))
            cv2.ellipse(drawn, ((x, y), (wide, high), float(at["turn"])), 255, -1)
            shared = np.minimum(drawn, true).sum() / np.maximum(drawn, true).sum(dtype=np.int64)
            self.assertGreater(float(shared), 0.75, name)

    def test_a_turned_head_is_found_turned(self) -> None:
        picture = data.astronaut()
        turned = cv2.warpAffine(picture, cv2.getRotationMatrix2D((223, 117), -20, 1), (512, 512))
        self.assertAlmostEqual(find_faces(turned)[0].turn - find_faces(picture)[0].turn, 20, delta=8)


class Subjects(TestCase):
    def test_the_puppet_is_outlined_and_marked(self) -> None:
        subject = find_subjects(still("a_bench"))[0]
        x, _, width, height = subject.box
        self.assertTrue(abs(x - 0.36) < 0.05 and abs(width - 0.39) < 0.08 and height > 0.75)
        outline = np.array(subject.outline, np.float32)
        # every mark lies within the loose outline
        for mark in subject.marks:
            for px, py in np.asarray(mark.points).reshape(-1, 3)[:, :2]:
                self.assertGreater(cv2.pointPolygonTest(outline, (float(px), float(py)), True), 0)


class Figures(TestCase):
    def test_the_body_of_a_face_is_seen(self) -> None:
        for name in ("a_bench", "f_night"):
            faces = find_faces(still(name), small=False)
            found = find_figures(still(name), faces, (534, 800))
            with self.subTest(name):
                self.assertEqual(len(found), len(faces))
                self.assertGreater(max(agrees(each.share, f"{name}_puppet.png") for each in found), 0.8)

    def test_walking_and_turned_she_is_found_wherever_she_shows(self) -> None:
        clip = cv2.VideoCapture(str(STILLS.parent / "clips" / "walk.mp4"))
        self.addCleanup(clip.release)
        for frame in (8, 28, 64, 108, 136):
            clip.set(cv2.CAP_PROP_POS_FRAMES, frame)
            codes = cv2.cvtColor(clip.read()[1], cv2.COLOR_BGR2RGB)
            true = f"walk/puppet_{frame:03d}.png"
            for mirrored in (False, True):
                seen = np.ascontiguousarray(codes[:, ::-1]) if mirrored else codes
                found = find_figures(seen, find_faces(seen, small=False), (720, 1280))
                with self.subTest(frame, mirrored=mirrored):
                    share = found[0].share
                    self.assertGreater(agrees(share[:, ::-1] if mirrored else share, true), 0.65)

    def test_two_beside_each_other_are_two(self) -> None:
        night = cv2.resize(still("f_night"), (800, 534), interpolation=cv2.INTER_AREA)
        both = np.concatenate([night, night[:, ::-1]], axis=1)
        found = find_figures(both, find_faces(both), both.shape[:2])
        self.assertEqual(len(found), 2)
        sides = sorted(float((each.share[:, :800] > 0.5).sum() / (each.share > 0.5).sum()) for each in found)
        self.assertLess(sides[0], 0.02)
        self.assertGreater(sides[1], 0.98)

    def test_without_a_face_there_is_none_and_a_close_one_has_no_body(self) -> None:
        self.assertEqual(find_figures(still("d_shelf"), [], (256, 384)), [])
        near = still("b_portrait")
        self.assertEqual(find_figures(near, find_faces(near, small=False), (256, 384)), [])
        # where the face is said to be nobody stands
        lost = [replace(each, x=0.2, y=0.2, oval=None) for each in find_faces(still("a_bench"), small=False)[:1]]
        self.assertEqual(find_figures(still("d_shelf"), lost, (256, 384)), [])


def agrees(share: np.ndarray, true: str) -> float:
    """The common area of a share and a true matte over that of either."""
    matte = cv2.imread(str(STILLS.parent / "truth" / true), cv2.IMREAD_GRAYSCALE)
    assert matte is not None
    there = cv2.resize(matte, share.shape[::-1], interpolation=cv2.INTER_AREA) / 255
    return float(np.minimum(share, there).sum() / np.maximum(share, there).sum())


class Lettering(TestCase):
    def test_every_line_is_found_however_it_is_turned(self) -> None:
        dice = np.random.default_rng(3)
        for trial in (Trial(), drawn_at(dice)):
            seen, matrix = shown(still("e_booth"), trial)
            lines = find_lettering(seen)
            with self.subTest(trial):
                self.assertTrue(LINES <= sum(line.sure for line in lines) <= LINES + 2)
                for places in true_lines()[:4]:
                    there = places @ matrix[:, :2].T + matrix[:, 2]
                    self.assertGreater(covered(lines, there, seen.shape[0]), 0.8)

    def test_light_on_dark_is_found_and_its_box_lies_close(self) -> None:
        drawn = np.full((400, 600, 3), 40, np.uint8)
        cv2.putText(drawn, "Lanternmoth", (60, 220), cv2.FONT_HERSHEY_SIMPLEX, 0.8, (230, 230, 230), 2, cv2.LINE_AA)
        (line,) = find_lettering(drawn)
        (left, top), (right, bottom) = line.corners.min(axis=0) * 400, line.corners.max(axis=0) * 400
        rows, columns = np.nonzero(drawn[..., 0] > 100)
        for found, true in ((left, columns.min()), (right, columns.max()), (top, rows.min()), (bottom, rows.max())):
            self.assertAlmostEqual(found, true, delta=10)
        self.assertLess(abs(line.turn), 1)

    def test_nothing_is_read_where_nothing_is_written(self) -> None:
        for name in PLAIN:
            seen, _ = shown(still(name), Trial(scale=0.6))
            self.assertFalse(any(line.sure for line in find_lettering(seen)), name)
        for picture in (data.gravel(), data.grass(), data.coins(), data.camera()):
            lines = find_lettering(np.repeat(picture[..., None], 3, axis=2))
            self.assertFalse(any(line.sure for line in lines))

    def test_a_scanned_page_is_found_line_by_line(self) -> None:
        # scikit-image's own page: eight lines of print, grey and unevenly lit
        page = np.repeat(data.page()[..., None], 3, axis=2)
        lines = [line for line in find_lettering(page) if line.sure]
        rows = {round(line.y * 191 / 22) for line in lines}
        self.assertGreaterEqual(len(rows), 7)

    def test_small_print_in_a_large_picture_is_looked_at_from_nearer_and_a_line_is_one(self) -> None:
        large = cv2.resize(still("g_wood"), (4800, 3200), interpolation=cv2.INTER_CUBIC)
        booth = still("e_booth")[420:720, 1180:1560]
        # letters of five pixels of what is looked at first
        small = cv2.resize(booth, None, fx=0.9, fy=0.9, interpolation=cv2.INTER_AREA)
        high, wide = small.shape[:2]
        large[400 : 400 + high, 3000 : 3000 + wide] = small
        made = source_of(np.ascontiguousarray(large.transpose(2, 0, 1)), SRGB, "small print")
        found = [offer for offer in find_kind(Engine(), made, "text") if offer.name == "text"]
        self.assertEqual(len(found), 8)
        for left, top, width, height in (offer.box for offer in found):
            self.assertTrue(left * 3200 > 3000 and (left + width) * 3200 < 3000 + wide)
            self.assertTrue(top * 3200 > 400 and (top + height) * 3200 < 400 + high)


class Finds(TestCase):
    def test_offers_are_parts_that_a_sheet_takes(self) -> None:
        engine, made = Engine(), source_of(np.ascontiguousarray(still("a_bench").transpose(2, 0, 1)), SRGB, "bench")
        finds = find(engine, made)
        self.assertEqual(finds.says, "Found: 2 subjects, 2 faces, no line of text.")
        parts = tuple(
            Part(id=f"p-{k}", kind=o.kind, values=o.values, points=o.points, strokes=o.strokes)
            for k, o in enumerate(finds.offers)
        )
        check_sheet(Sheet(regions=(Region(id="r", name="r", parts=parts),)), CATALOGUE)

    def test_nothing_found_is_said(self) -> None:
        made = source_of(np.full((3, 90, 120), 128, np.uint8), SRGB, "flat")
        finds = find(Engine(), made)
        self.assertEqual(finds.offers, ())
        self.assertIn("No subject, no face and no text found", finds.says)

    def test_what_only_may_be_a_face_is_said_to_and_bears_another_name(self) -> None:
        made = source_of(np.ascontiguousarray(still("c_dusk").transpose(2, 0, 1)), SRGB, "dusk")
        finds = find(Engine(), made)
        self.assertIn("no face, no line of text. 2 more may be faces", finds.says)
        self.assertEqual({offer.name for offer in finds.offers} & {"face", "text"}, set())

    def test_a_missing_and_a_damaged_file_give_a_sentence(self) -> None:
        picture = np.zeros((128, 128, 3), np.float32)
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            with self.assertRaisesRegex(ModelError, "missing"):
                run("face", picture, folder)
            shutil.copy(FOLDER / "face.tflite", folder)
            (folder / "face.tflite").write_bytes((folder / "face.tflite").read_bytes()[:-100])
            with self.assertRaisesRegex(ModelError, "damaged"):
                run("face", picture, folder)

    def test_what_was_found_is_kept(self) -> None:
        self.assertLessEqual(len(finding._kept), finding.KEPT)

    def test_what_was_found_is_kept_on_disk_and_a_damaged_file_is_none(self) -> None:
        made = source_of(np.ascontiguousarray(still("e_booth").transpose(2, 0, 1)), SRGB, "kept on disk")
        with tempfile.TemporaryDirectory() as name, mock.patch.object(finding, "_folder_of", lambda key: Path(name)):
            self.assertEqual(known_offers(made), ())
            found = find(Engine(), made).offers
            files = sorted(Path(name).iterdir())
            self.assertEqual([each.name.split("-")[1] for each in files], ["face", "read", "subject", "text"])
            with mock.patch.object(
                finding, "_LOOKS", dict.fromkeys(finding._LOOKS, mock.Mock(side_effect=AssertionError))
            ):
                finding._kept.clear()
                self.assertEqual(find(Engine(), made).offers, found)
                finding._kept.clear()
                self.assertEqual(known_offers(made), found)
            finding._kept.clear()
            files[0].write_bytes(files[0].read_bytes()[:-9])
            self.assertEqual(find(Engine(), made).offers, found)
            finding._kept.clear()
            self.assertEqual(known_offers(made), found)
