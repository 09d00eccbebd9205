"""Files of very few frames: an encoder that looks ahead has nothing to look at."""

from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

import av

from calado.media.clips.clip import Clip
from calado.media.clips.formats import CLIP_FORMATS, ClipTarget
from calado.media.clips.tests.made import make
from calado.media.clips.write import AHEAD, picture_writer


class FewFrames(TestCase):
    def test_times_of_one_to_four_frames_in_every_format(self) -> None:
        with TemporaryDirectory() as folder, Clip(make(Path(folder) / "source.mp4", 4)) as clip:
            pictures = [clip.picture(k) for k in range(4)]
            size = pictures[0].width, pictures[0].height
            for id, kind in CLIP_FORMATS.items():
                if kind.encoder == "prores_ks":  # it takes other planes and looks at no other frame
                    continue
                for count in (1, 2, 3, 4):
                    out = Path(folder) / f"{id}-{count}.{kind.suffix}"
                    with picture_writer(out, clip.facts, size, ClipTarget(id), "yuv420p") as writer:
                        for picture in pictures[:count]:
                            writer.write(picture)
                    with self.subTest(id, count=count):
                        self.ordered(out, count, kind.encoder)

    def ordered(self, path: Path, count: int, encoder: str) -> None:
        """See that frames follow each other, and are decoded in time but not earlier than the encoder reorders."""
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            frame = 1 / stream.average_rate / stream.time_base
            packets = [each for each in container.demux(stream) if each.pts is not None]
        times = sorted(round(each.pts / frame) for each in packets)
        self.assertEqual(times, list(range(times[0], times[0] + count)))
        self.assertGreaterEqual(packets[0].dts, (times[0] - 2) * frame)
        if encoder in AHEAD:  # left alone, it tells what its memory held
            self.assertEqual(packets[0].dts, (times[0] - AHEAD[encoder]) * frame)
        for each in packets:
            self.assertLessEqual(each.dts, each.pts)
