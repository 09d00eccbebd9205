"""What is cut out, cut out anew in every frame: found by a job, shown, exported, and kept beside its motion."""

import io
import os

import numpy as np
from django.test import TestCase
from PIL import Image

from calado.media.clips.clip import Clip
from calado.media.clips.tests.made import CARD
from server.api.tests.following import FRAMES, SIZE, Followed, middle
from server.api.tests.support import query
from server.bench.clips import motions_of
from server.jobs.keeping import unused
from server.jobs.removal import remove_shot
from server.projects.models import Shot


class Shapes(Followed, TestCase):
    def test_what_is_cut_out_is_cut_out_in_every_frame(self) -> None:
        x, y = middle(4)
        wide, high = (side / 2 / SIZE[1] for side in CARD)
        around = [[x + dx * (wide + 0.06), y + dy * (high + 0.06)] for dx, dy in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        mark = {"points": [x - wide / 2, y, 1, x + wide / 2, y, 1], "size": high}
        part = {"id": "s", "kind": "rough", "points": around, "strokes": [mark], "values": {"band": 0.01}}
        cut = {"id": "card", "name": "card", "parts": [part]}
        done = self.job({"regions": [cut]}, 4)
        self.assertEqual(done["state"], "done", done)
        motion = self.call("GET", f"{self.at}/motions/{done['track']['motion']}")
        self.assertEqual((motion["kind"], motion["marked"]), ("shape", {}))
        along = {"regions": [{**cut, "track": done["track"]}]}
        for frame in (0, 9, FRAMES - 1):
            fields = {"view": "matte", "region": "card", "rectangle": [0, 0, *SIZE], "scale": 1, "format": "png"}
            answer = self.call("GET", f"{self.draft(along, frame)}/preview?{query(fields)}")
            matte = np.asarray(Image.open(io.BytesIO(answer.content)).convert("L")) > 127
            rows, columns = np.nonzero(matte)
            to = np.array(middle(frame)) * SIZE[1]
            np.testing.assert_allclose((columns.mean() + 0.5, rows.mean() + 0.5), to, atol=1.5)
            self.assertAlmostEqual(matte.sum() / (CARD[0] * CARD[1]), 1, delta=0.06)
        # the file too: a cover over it changes the card in every frame, and nothing else
        cover = {"id": "p", "name": "Cover", "region": "card", "inside": {"solid": {"amount": 1}}}
        written = self.exported({**along, "passes": [cover]})
        with Clip(written) as after, Clip(self.file) as came:
            for frame in range(FRAMES):
                y, x = np.nonzero(after.picture(frame).planes[0] != came.picture(frame).planes[0])
                to = np.array(middle(frame)) * SIZE[1]
                np.testing.assert_allclose((x.mean() + 0.5, y.mean() + 0.5), to, atol=1.5)
        # its mattes lie beside its motion, are kept as long as that is named, and go with the shot
        shot = Shot.objects.get(id=self.shot)
        kept = list(motions_of(shot).path.glob("*.png"))
        self.assertGreaterEqual(len(kept), FRAMES - 1)
        for each in [*kept, *motions_of(shot).path.glob("*.json")]:
            os.utime(each, (1, 1))
        self.assertEqual(set(unused()) & set(kept), set())
        remove_shot(shot)
        self.assertFalse(any(each.exists() for each in kept))
