"""Subtitles and chapters of an export against the source's, read back by the codec library."""

from fractions import Fraction
from pathlib import Path

import av

from calado.clip_chunks import Take
from calado.clip_render import ClipOrder
from calado.media.clips.clip import Clip
from calado.media.clips.formats import ClipFormatId, ClipTarget
from calado.media.clips.frames import Frames
from calado.media.clips.tests.made import make
from calado.read_back.beside import carried_beside, differs_beside
from calado.sheet.models import EMPTY_SHEET
from calado.tests.test_clip_export import Case

SAID = "\n".join(
    f"{n}\n00:00:0{first},{of:03} --> 00:00:0{last},{to:03}\n{text}\n"
    for n, (first, of, last, to, text) in enumerate(
        [(0, 200, 1, 0, "The moth is out."), (1, 200, 2, 0, "Lights."), (2, 100, 2, 300, "Bow.")], 1
    )
)
CHAPTERS = [("Dusk", 0, 1000), ("Night", 1000, 2400)]


class AsItCame(Case):
    def told(self, name: str = "told", said: str = SAID, first: str = "Dusk", later: int = 0) -> Path:
        """Write a clip with subtitles and chapters."""
        bare = make(self.folder / "bare.mkv", 60)
        lines = self.folder / "said.srt"
        lines.write_text(said)
        path = self.folder / f"{name}.mkv"
        with av.open(str(bare)) as pictures, av.open(str(lines)) as said, av.open(str(path), "w") as out:
            into = [out.add_stream_from_template(pictures.streams.video[0])]
            into.append(out.add_stream_from_template(said.streams.subtitles[0]))  # type: ignore[arg-type]
            into[1].metadata["language"] = "por"
            tick = Fraction(1, 1000)
            out.set_chapters(
                [
                    {"id": n, "start": start, "end": end, "time_base": tick, "metadata": {"title": title}}
                    for n, (title, start, end) in enumerate([(first, 0, 1000 + later), *CHAPTERS[1:]], 1)
                ]
            )
            for container, stream in ((said, into[1]), (pictures, into[0])):
                for packet in container.demux():
                    if packet.size and packet.pts is not None:
                        packet.stream = stream
                        out.mux(packet)
        return path

    def test_they_go_along_with_a_range_cut_to_it(self) -> None:
        source = self.told()
        whole = self.exported(source, ClipOrder(EMPTY_SHEET), "b.mkv", ClipTarget("ffv1"))
        self.assertEqual(self.says, "")
        self.assertEqual(texts(whole), texts(source))
        self.assertEqual(len(texts(whole)), 3)
        self.assertEqual(parts(whole), CHAPTERS)
        with av.open(str(whole)) as file:
            self.assertEqual(file.streams.subtitles[0].language, "por")
        # from 0.6 s on to 1.6 s, at 25 frames a second
        part = self.exported(source, ClipOrder(EMPTY_SHEET, frames=(15, 39)), "c.mkv", ClipTarget("ffv1"))
        self.assertEqual(texts(part), [(0, 400, "The moth is out."), (600, 400, "Lights.")])
        self.assertEqual(parts(part), [("Dusk", 0, 400), ("Night", 400, 1000)])

    def test_what_a_container_does_not_hold_is_left_out_and_said(self) -> None:
        out = self.exported(self.told(), ClipOrder(EMPTY_SHEET), "b.mp4", ClipTarget("h264"))
        self.assertIn("subtitles (srt) were left out", self.says)
        self.assertEqual(parts(out), CHAPTERS)
        with av.open(str(out)) as file:
            self.assertEqual(len(file.streams.subtitles), 0)

    def test_read_back_they_are_those_of_the_source_and_others_are_found(self) -> None:
        source = self.told()
        spoken, titled = "Its subtitles are not those of its source.", "Its chapters are not those of its source."
        others = {
            self.told("other", said=SAID.replace("Lights", "Ana Prado")): [spoken],
            self.told("later", said=SAID.replace("01,200", "01,300")): [spoken],
            self.told("named", first="Ana Prado"): [titled],
            self.told("longer", later=200): [titled],
        }
        kinds: tuple[tuple[str, ClipFormatId, tuple[int, int] | None], ...] = (
            ("b.mkv", "ffv1", None),
            ("b.mkv", "ffv1", (15, 39)),
            ("b.mp4", "h264", (15, 39)),
        )
        for name, id, frames in kinds:
            out = self.exported(source, ClipOrder(EMPTY_SHEET, frames=frames), name, ClipTarget(id))
            self.assertEqual(self.beside(source, frames, out), [])
            for other, found in others.items():
                left_out = found == [spoken] and name != "b.mkv"
                with self.subTest(other=other.name, out=name, frames=frames):
                    self.assertEqual(self.beside(other, frames, out), [] if left_out else found)
        whole = self.exported(source, ClipOrder(EMPTY_SHEET), "c.mkv", ClipTarget("ffv1"))
        self.assertEqual(
            carried_beside(whole), "It carries 1 subtitle track and 2 chapters of its source, words and all."
        )

    def beside(self, source: Path, frames: tuple[int, int] | None, out: Path) -> list[str]:
        """Return in what a file differs from what a source has beside picture and sound."""
        with Clip(source) as clip, Clip(out) as written:
            held = Frames(clip, "a")
            take = Take(lambda: held, source, ClipOrder(EMPTY_SHEET, frames=frames))
            return list(differs_beside([take], out, written.facts))

    def test_a_timecode_of_another_frame_is_found(self) -> None:
        source = make(self.folder / "a.mov", 40, timecode="10:00:59:20")
        out = self.exported(source, ClipOrder(EMPTY_SHEET, frames=(10, 19)), "b.mov", ClipTarget("prores"))
        self.assertEqual(self.beside(source, (10, 19), out), [])
        (found,) = self.beside(source, (11, 20), out)
        self.assertIn("begins at 10:01:00:05, that of its source at 10:01:00:06", found)
        self.assertEqual(carried_beside(out), "")


def texts(path: Path) -> list[tuple[int, int, str]]:
    """Return begin and length in milliseconds, and text, of all subtitles."""
    with av.open(str(path)) as file:
        return [
            (packet.pts, packet.duration or 0, bytes(packet).decode())
            for packet in file.demux(file.streams.subtitles[0])
            if packet.size and packet.pts is not None
        ]


def parts(path: Path) -> list[tuple[str, int, int]]:
    """Return title, begin and end in milliseconds of all chapters."""
    with av.open(str(path)) as file:
        return [
            (each["metadata"]["title"], *(round(each[at] * each["time_base"] * 1000) for at in ("start", "end")))  # type: ignore[literal-required, misc]
            for each in file.chapters()
        ]
