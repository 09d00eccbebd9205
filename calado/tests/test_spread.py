"""Chunks rendered elsewhere: the file is the same, whoever writes them."""

import logging
import os
from concurrent.futures import Executor, Future
from unittest import mock

from distributed import LocalCluster

from calado import clip_export
from calado.clip_chunks import Places, Spread, Take
from calado.clip_export import export_takes
from calado.clip_render import ClipOrder
from calado.errors import Cancelled, RequestError
from calado.media.clips.clip import Clip
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.part import ClipPart
from calado.media.clips.tests.made import make
from calado.scheduler import NAMED, spread_of
from calado.tests.test_clip_export import BOX, Case, on

ORDER = ClipOrder(on(BOX, scramble={"radius": 0.1}))


class Never(Executor):
    """Takes what it is given and does nothing."""

    def submit(self, *given: object, **named: object) -> Future[None]:  # type: ignore[override]
        return Future()


class Elsewhere(Case):
    def setUp(self) -> None:
        super().setUp()
        self.source = make(self.folder / "a.mp4", 34, sound="aac")
        for name, value in (("CHUNK", 12), ("new_secret", lambda: 5)):
            patch = mock.patch.object(clip_export, name, value)
            patch.start()
            self.addCleanup(patch.stop)

    def written(self, name: str, spread: Spread | None, told: object = lambda share: True) -> bytes:
        out = self.folder / name
        with Clip(self.source) as clip:
            take = Take(lambda: Frames(ClipPart(clip, 2, 30), "key"), self.source, ORDER)
            export_takes([take], out, ClipTarget("h264"), told, spread=spread)  # type: ignore[arg-type]
        return out.read_bytes()

    def test_a_cluster_writes_the_same(self) -> None:
        here = self.written("here.mp4", None)
        # it tells each step of its own
        said = logging.getLogger("distributed")
        self.addCleanup(said.setLevel, said.level)
        said.setLevel(logging.ERROR)
        with (
            LocalCluster(
                n_workers=1, threads_per_worker=1, dashboard_address=None, silence_logs=logging.ERROR
            ) as cluster,
            mock.patch.dict(os.environ, {NAMED: cluster.scheduler_address}),
            spread_of(Places()) as spread,
        ):
            assert spread is not None
            self.assertEqual(self.written("cluster.mp4", spread), here)

    def test_called_off_nothing_stays(self) -> None:
        calls = iter([True, False])
        with self.assertRaises(Cancelled):
            self.written("off.mp4", Spread(Never()), lambda share: next(calls))
        self.assertEqual([each.name for each in self.folder.iterdir()], ["a.mp4"])

    def test_nobody_there(self) -> None:
        with mock.patch.dict(os.environ, {NAMED: ""}), spread_of(Places()) as spread:
            self.assertIsNone(spread)
        nobody = mock.patch.dict(os.environ, {NAMED: "tcp://127.0.0.1:9"})
        with (
            mock.patch("calado.scheduler.ANSWERS", 0.5),
            nobody,
            self.assertRaisesRegex(RequestError, "does not answer"),
            spread_of(Places()),
        ):
            pass
