"""Regions that follow: found by a job, told of, corrected, begun anew, stopped, exported, and what is refused."""

import hashlib
import io
import json
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from django.conf import settings
from django.test import TestCase
from PIL import Image

from calado.follow.motion import digest_of
from calado.media.clips.clip import Clip
from server.api.tests.following import FRAMES, SIZE, Followed, middle, oval, sheet
from server.api.tests.support import whole
from server.bench.clips import motions_of
from server.jobs.models import Export, Job
from server.jobs.removal import remove_shot
from server.jobs.work import run_job
from server.jobs.writing import run_export
from server.projects.models import Shot


class Following(Followed, TestCase):
    def test_it_is_where_the_card_is_in_every_frame(self) -> None:
        done = self.job(sheet(4), 4)
        self.assertEqual((done["state"], done["region"], done["of"]), ("done", "card", self.shot))
        made = sheet(4, track=done["track"])
        for frame in range(FRAMES):
            with self.subTest(frame):
                np.testing.assert_allclose(self.place(made, frame), middle(frame), atol=0.2 / SIZE[1])
        motion = self.call("GET", f"{self.at}/motions/{done['track']['motion']}")
        self.assertEqual((motion["at"], motion["first"], motion["held"]), (4, 0, []))
        self.assertEqual(len(motion["confidence"]), FRAMES)
        self.assertGreater(min(motion["confidence"]), 0.8)
        self.assertIn("which follows", json.dumps(self.told(made)))
        # away from where it was marked a part tells how that was
        self.assertEqual(self.moved(made, 9)["own"]["values"], oval(4)["values"])
        self.assertIsNone(self.moved(made, 4)["own"])

    def test_one_way_only(self) -> None:
        done = self.job(sheet(4), 4, first=4, motion="place")
        motion = self.call("GET", f"{self.at}/motions/{done['track']['motion']}")
        self.assertEqual((motion["first"], len(motion["confidence"])), (4, FRAMES - 4))
        self.assertEqual((motion["doubtful"], motion["weakest"][:4]), ([0, 1, 2, 3], [0, 1, 2, 3]))
        np.testing.assert_allclose(self.place(sheet(4, track=done["track"]), 0), middle(4), atol=1e-4)

    def test_corrected_it_fades_and_from_there_it_is_followed_anew(self) -> None:
        track = self.job(sheet(0), 0, motion="similar")["track"]
        fixes = {"6": {"dx": 0.1, "dy": 0, "scale": 1, "turn": 0}, "12": {"dx": 0.3, "dy": 0, "scale": 1, "turn": 0}}
        made = sheet(0, track={**track, "fixes": fixes})
        self.assertAlmostEqual(self.place(made, 6)[0], middle(6)[0] + 0.1, delta=0.002)
        self.assertTrue(middle(3)[0] < self.place(made, 3)[0] < middle(3)[0] + 0.1)
        self.assertEqual(self.moved(made, 6)["fix"], fixes["6"])
        # wrong by little, it finds the card again; what was corrected later counts no more
        near = {"6": {"dx": 0.02, "dy": 0, "scale": 1, "turn": 0}, "12": fixes["12"]}
        again = self.job(sheet(0, track={**track, "fixes": near}), 6)["track"]
        self.assertEqual((again["at"], again["fixes"]), (0, {}))
        kept = motions_of(Shot.objects.get(id=self.shot))(again["motion"])
        assert kept is not None
        self.assertEqual(kept.kind, "similar")
        anew = sheet(0, track=again)
        self.assertAlmostEqual(self.place(anew, 6)[0], middle(6)[0] + 0.02, delta=0.002)
        for frame in (9, 12):
            np.testing.assert_allclose(self.place(anew, frame), middle(frame), atol=0.3 / SIZE[1])
        # up to there the correction fades in, as before
        self.assertTrue(middle(3)[0] < self.place(anew, 3)[0] < middle(3)[0] + 0.02)

    def test_two_corrections_are_both_taken_up_and_none_counts_twice(self) -> None:
        track = self.job(sheet(0), 0, motion="similar")["track"]
        fixes = {frame: {"dx": 0.01, "dy": 0.004, "scale": 1, "turn": 0} for frame in ("4", "8")}
        before = sheet(0, track={**track, "fixes": fixes})
        after = sheet(0, track=self.job(before, 8)["track"])
        for frame in (4, 8):
            np.testing.assert_allclose(self.place(after, frame), self.place(before, frame), atol=1e-4)
        for frame in (10, 12):
            np.testing.assert_allclose(self.place(after, frame), middle(frame), atol=0.3 / SIZE[1])

    def test_the_file_has_the_cover_where_the_card_is(self) -> None:
        track = self.job(sheet(4), 4)["track"]
        written = self.exported(sheet(4, track=track))
        with Clip(written) as after, Clip(self.file) as came:
            for frame in range(FRAMES):
                changed = after.picture(frame).planes[0] != came.picture(frame).planes[0]
                y, x = np.nonzero(changed)
                np.testing.assert_allclose((x.mean() + 0.5, y.mean() + 0.5), np.array(middle(frame)) * SIZE[1], atol=1)

    def test_where_a_cover_may_be_off_the_export_waits(self) -> None:
        track = self.job(sheet(4), 4, first=4)["track"]
        body = {"shots": [self.shot], "format": "png", "clip": {"format": "ffv1"}}
        for fixes, says in (({}, "4 frames are"), ({"0": {}, "1": {}, "2": {}}, "one frame is")):
            head = self.call("GET", f"{self.at}/bench")["revision"]
            step = whole(sheet(4, track={**track, "fixes": fixes}))
            self.call("POST", f"{self.at}/steps", {"seen": head, "label": "cover", "step": step})
            told = self.call("POST", f"/projects/{self.project}/exports", body, 409)
            self.assertIn(f"“card”: {says} open, the first is {3 * bool(fixes)}.", told["title"])
        self.assertEqual(self.bench()["covers"][0]["says"], "covers 13, 1 open")
        # what somebody declares is open no more, and nothing is drawn where it is absent
        absent = {"3": {"last": 3, "says": "absent", "who": "Odile", "when": "2026-11-30T10:00:00Z"}}
        made = sheet(4, track={**track, "fixes": {"0": {}, "1": {}, "2": {}}}, covers=absent)
        self.call(
            "POST", f"{self.at}/steps", {"seen": self.bench()["revision"], "label": "absent", "step": whole(made)}
        )
        covers = self.bench()["covers"][0]
        self.assertEqual((covers["says"], covers["open"]), ("covers 13, absent in 1", 0))
        self.assertEqual(covers["runs"][1]["who"], "Odile")
        with self.captureOnCommitCallbacks(execute=True):
            (ordered,) = self.call("POST", f"/projects/{self.project}/exports", body)
        run_export.call(ordered["id"])
        with Clip(Export.objects.get(id=ordered["id"]).path) as written, Clip(self.file) as came:
            for frame in (2, 3, 4):
                same = bool((written.picture(frame).planes[0] == came.picture(frame).planes[0]).all())
                self.assertEqual(same, frame == 3)

    def test_looked_at_along_its_way_without_its_cover(self) -> None:
        track = self.job(sheet(4), 4)["track"]
        fix = {"dx": 0.1, "dy": 0.0, "scale": 1.0, "turn": 0.0}
        along = f"{self.draft(sheet(4, track={**track, 'fixes': {'9': fix}}), 4)}/along/card"
        stops = self.call("GET", along)
        at = {each["frame"]: each for each in stops}
        self.assertEqual(list(at), sorted(at))
        self.assertTrue({0, 4, 9, FRAMES - 1} <= set(at), at)
        self.assertEqual(at[9]["fix"], fix)
        self.assertAlmostEqual(at[4]["side"], 2.2 * 0.36, delta=0.03)
        came = Clip(self.file)
        self.addCleanup(came.close)
        for frame in (0, 4, 9):
            answer = self.client.get(f"/api{along}/{frame}")
            self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/jpeg"))
            seen = np.asarray(Image.open(io.BytesIO(answer.content)).convert("L"))
            # the middle of what is shown is the middle of the card, or of where it was corrected to
            x, y = middle(frame)
            x += 0.1 if frame == 9 else 0.0
            there = came.picture(frame).planes[0]
            row, column = int(y * SIZE[1]), int(x * SIZE[1])
            near = there[row - 8 : row + 8, column - 8 : column + 8].astype(float)
            half = round(8 / (at[frame]["side"] * SIZE[1]) * seen.shape[0])
            shown = seen[104 - half : 104 + half, 104 - half : 104 + half]
            self.assertAlmostEqual(float(shown.mean()), float((near.mean() - 16) * 255 / 219), delta=25)
        self.assertEqual(self.client.get(f"/api{along}/77").status_code, 404)
        still = f"{self.draft(sheet(4), 4)}/along/card"
        self.assertEqual(self.call("GET", still), [])

    def test_played_as_a_loop_the_card_stands_still(self) -> None:
        track = self.job(sheet(4), 4)["track"]
        loop = f"{self.draft(sheet(4, track=track), 4)}/loop/card"
        told = self.call("GET", loop)
        self.assertEqual((told["frames"], len(told["sure"])), (list(range(FRAMES)), FRAMES))
        answer = self.client.get(f"/api{loop}/picture")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/jpeg"))
        seen = np.asarray(Image.open(io.BytesIO(answer.content)).convert("L")).astype(float)
        side, row = 208, told["row"]
        squares = [
            seen[side * (k // row) : side * (k // row + 1), side * (k % row) : side * (k % row + 1)]
            for k in range(FRAMES)
        ]
        # the middle of the card, within its outline, is the same in each; in the clip it moves away from its place
        inner = slice(92, 116)
        still = max(np.abs(each[inner, inner] - squares[4][inner, inner]).mean() for each in squares)
        x, y = (int(n * SIZE[1]) for n in middle(4))
        with Clip(self.file) as came:
            places = [came.picture(k).planes[0][y - 8 : y + 8, x - 8 : x + 8].astype(float) for k in range(FRAMES)]
        moves = min(np.abs(each - places[4]).mean() for k, each in enumerate(places) if abs(k - 4) > 2)
        self.assertLess(still, 12)
        self.assertGreater(moves, 2 * still)
        self.call("GET", f"{self.draft(sheet(4), 4)}/loop/card/picture", None, 404)

    def test_a_file_that_conceals_is_read_back_and_reported(self) -> None:
        track = self.job(sheet(4), 4)["track"]
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "cover", "step": whole(sheet(4, track=track))})
        body = {"shots": [self.shot], "format": "png", "clip": {"format": "h264", "first": 2, "last": 11}}
        with self.captureOnCommitCallbacks(execute=True):
            (ordered,) = self.call("POST", f"/projects/{self.project}/exports", body)
        at_export = f"/projects/{self.project}/exports/{ordered['id']}"
        self.call("GET", f"{at_export}/report", None, 404)
        run_export.call(ordered["id"])
        (told,) = self.call("GET", f"/projects/{self.project}/exports")
        self.assertTrue(told["good"], told["read_back"])
        self.assertIn("Read back, all 10 frames. Under “Cover” at most", told["read_back"])
        report = self.call("GET", f"{at_export}/report")
        file = Export.objects.get(id=ordered["id"]).path
        self.assertEqual(report["written"]["sha256"], hashlib.sha256(file.read_bytes()).hexdigest())
        (cover,) = report["covers"]
        self.assertEqual((cover["says"], cover["runs"][0]["first"], cover["runs"][0]["last"]), ("It covers 10.", 2, 11))
        for name, kind in (("report.pdf", "application/pdf"), ("report.csv", "text/csv"), ("frames/2", "image/jpeg")):
            answer = self.client.get(f"/api{at_export}/{name}")
            self.assertEqual((answer.status_code, answer["Content-Type"].split(";")[0]), (200, kind))
        self.assertEqual(self.client.get(f"/api{at_export}/frames/1").status_code, 404)

    def bench(self) -> dict[str, Any]:
        return dict(self.call("GET", f"{self.at}/bench"))

    def test_stopped_it_keeps_what_it_has(self) -> None:
        begun = self.call("POST", f"{self.draft(sheet(0), 0)}/track/card", {})
        seen: list[float] = []

        def reporter(job: Job) -> Any:
            return lambda share: bool(seen.append(share)) or len(seen) < 5

        with mock.patch("server.jobs.work.reporter", reporter):
            run_job.call(begun["id"])
        (told,) = self.call("GET", f"/projects/{self.project}/jobs")
        self.assertEqual(told["state"], "done")
        motion = self.call("GET", f"{self.at}/motions/{told['track']['motion']}")
        self.assertEqual(len(motion["confidence"]), 6)

    def test_refused_in_a_sentence(self) -> None:
        draft = self.draft(sheet(0), 0)
        self.call("POST", f"{draft}/track/nothing", {}, 422)
        self.call("POST", f"{draft}/track/card", {"motion": "somehow"}, 422)
        self.call("POST", f"{draft}/track/card", {})
        self.assertIn("being followed", self.call("POST", f"{draft}/track/card", {}, 409)["title"])
        for name in ("0" * 64, "../../etc/passwd", "x"):
            self.call("GET", f"{self.at}/motions/{name.replace('/', '%2F')}", status=404)
        small = sheet(0)
        small["regions"][0]["parts"][0]["values"] |= {"width": 0.01, "height": 0.01}
        large = {"regions": [{"id": "card", "name": "card", "parts": [{"id": "w", "kind": "whole"}]}], "passes": []}
        Job.objects.all().delete()
        for made, says in ((small, "too little"), (large, "nearly the whole frame")):
            done = self.job(made, 0)
            self.assertEqual(done["state"], "failed")
            self.assertIn(says, done["problem"])

    def test_a_motion_of_another_file_or_a_damaged_one_moves_nothing(self) -> None:
        track = self.job(sheet(4), 4)["track"]
        made = sheet(4, track=track)
        folder: Path = motions_of(Shot.objects.get(id=self.shot)).path
        (file,) = folder.iterdir()
        other = file.read_bytes().replace(b'"version":1', b'"version":9', 1)
        newer = file.with_name(f"{digest_of(other)}.json")
        newer.write_bytes(other)
        of_another = sheet(4, track={**track, "motion": newer.stem})
        np.testing.assert_allclose(self.place(of_another, 9), middle(4), atol=1e-4)
        file.write_bytes(file.read_bytes().replace(b'"on"', b'"ON"', 1))
        np.testing.assert_allclose(self.place(made, 9), middle(4), atol=1e-4)
        self.call("GET", f"{self.at}/motions/{track['motion']}", status=404)

    def test_it_goes_with_its_clip_and_splitting_waits(self) -> None:
        track = self.job(sheet(4), 4)["track"]
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "cover", "step": whole(sheet(4, track=track))})
        self.assertIn("moves", self.call("POST", f"{self.at}/split", {"at": [5]}, 422)["title"])
        remove_shot(Shot.objects.get(id=self.shot))
        self.assertEqual(list(Path(settings.MOTION_ROOT).iterdir()), [])
