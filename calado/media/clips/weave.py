"""Joining encoded chunks by their packets, and weaving the source's sound in, in a process of its own.

Packets are copied where the container takes them; else the sound is encoded anew and the answer says so.
The process is another one because the sound comes out of the source, which may be hostile.
"""

import json
import resource
import subprocess
import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
from av.error import FFmpegError
from av.packet import Packet

from calado.errors import MediaError
from calado.media.clips.facts import ClipFacts
from calado.media.clips.formats import CLIP_FORMATS, ClipTarget
from calado.media.clips.opening import alpha_beside
from calado.media.clips.side import chapters, opened, subtitles
from calado.media.clips.sound_packets import sound_packets
from calado.media.clips.timecode import advanced

ROOM_BYTES = 4 * 2**30
SECONDS = 3600


@dataclass(frozen=True)
class Heard:
    """Frames of a file whose sound goes along: the first and the last, counted in the file."""

    path: Path
    facts: ClipFacts
    frames: tuple[int, int]

    @property
    def seconds(self) -> tuple[Fraction, Fraction]:
        """Where they begin and end."""
        first, last = (each + self.facts.first for each in self.frames)
        return first / self.facts.rate, (last + 1) / self.facts.rate


def weave(chunks: list[tuple[Path, int]], pieces: Sequence[Heard], out: Path, target: ClipTarget) -> str:
    """Write ``out`` from chunks, each with the number of its first frame, and the sound of the pieces, in order.

    Returns what there is to say about the sound, or nothing.

    Raises
    ------
    MediaError
        when it cannot be written.
    """
    facts = pieces[0].facts
    loud = target.sound and any(each.facts.sound for each in pieces)
    order = {
        "chunks": [[str(path), first] for path, first in chunks],
        "pieces": [{"path": str(each.path), "seconds": [str(at) for at in each.seconds]} for each in pieces],
        "sound": loud,
        "rate": str(facts.rate),
        "out": str(out),
        "format": target.format,
        "turn": facts.turn,
        "timecode": advanced(facts.timecode, pieces[0].frames[0], facts.rate),
    }
    command = [sys.executable, "-m", "calado.media.clips.weave"]
    done = subprocess.run(command, input=json.dumps(order).encode(), capture_output=True, timeout=SECONDS, check=False)
    lines = done.stdout.splitlines()
    said = json.loads(lines[-1]) if done.returncode == 0 and lines else {"failed": "the clip could not be put together"}
    if "failed" in said:
        raise MediaError(f"The clip could not be written: {said['failed']}.", code="media.write")
    return str(said["says"])


def _weave(order: dict[str, Any]) -> str:
    rate = Fraction(order["rate"])
    kind = CLIP_FORMATS[order["format"]]
    out = Path(order["out"])
    part = out.with_name(f".{out.stem}.part{out.suffix}")
    chunks = [(Path(path), first) for path, first in order["chunks"]]
    pieces = [(each["path"], *map(Fraction, each["seconds"])) for each in order["pieces"]]
    says: list[str] = []
    # without a number of its own and the date in the file, the same order gives the same file
    boxed = {"movflags": "+faststart", "write_tmcd": "1" if order["timecode"] else "0"}
    options = {"fflags": "+bitexact", **(boxed if out.suffix in (".mp4", ".mov") else {})}
    with av.open(str(part), "w", options=options) as made:
        with av.open(str(chunks[0][0])) as first:
            pictures = made.add_stream_from_template(first.streams.video[0], opaque=True)
            pictures.time_base = 1 / rate
            if alpha_beside(first.streams.video[0]):
                pictures.metadata["alpha_mode"] = "1"
            if order["timecode"]:
                pictures.metadata["timecode"] = order["timecode"]
                # the rate in which it counts, which not every codec tells by itself
                if pictures.codec_context is not None:
                    pictures.codec_context.framerate = rate
            if order["turn"]:
                pictures.set_display_rotation(order["turn"])
        beside: list[Iterator[Packet]] = []
        if order["sound"]:
            packets, said = sound_packets(pieces, made, kind)
            beside.append(packets)
            says.append(said)
        if len(pieces) == 1:
            path, start, end = pieces[0]
            packets, said = subtitles(opened(path), made, start, end)
            beside.append(packets)
            says.append(said)
            made.set_chapters(chapters(opened(path), start, end))
        else:
            says.append(_left_out([path for path, *_ in pieces]))
        for packet in _in_order(_pictures(chunks, pictures, rate), *beside):
            made.mux(packet)
    part.replace(out)
    return " ".join(filter(None, says))


def _left_out(paths: list[str]) -> str:
    """Return what is to be said of files that are joined: their subtitles and chapters."""
    for path in paths:
        with opened(path) as source:
            if source.streams.subtitles or source.chapters():
                return "Subtitles and chapters were left out, as several clips were joined."
    return ""


def _pictures(chunks: list[tuple[Path, int]], stream: Any, rate: Fraction) -> Iterator[Packet]:
    """Return the packets of all chunks, one decoded a frame, as late as the one needed first allows."""
    early = max((place - packet.pts for place, packet in enumerate(_numbered(chunks, rate))), default=0)
    for place, packet in enumerate(_numbered(chunks, rate)):
        packet.dts, packet.duration = place - early, 1
        packet.time_base = 1 / rate
        packet.stream = stream
        yield packet


def _numbered(chunks: list[tuple[Path, int]], rate: Fraction) -> Iterator[Any]:
    """Return the packets of chunks as they are stored, each with the number of its frame as its time."""
    start = chunks[0][1]
    for path, first in chunks:
        with av.open(str(path)) as container:
            for packet in container.demux(container.streams.video[0]):
                if packet.size == 0 or packet.pts is None:
                    continue
                packet.pts = round(packet.pts * Fraction(packet.time_base) * rate) + first - start
                yield packet


def _in_order(*streams: Iterator[Packet]) -> Iterator[Packet]:
    """Return the packets of several streams by the time at which they are decoded."""
    waiting = [next(stream, None) for stream in streams]
    while any(packet is not None for packet in waiting):
        times = [_time(packet) for packet in waiting]
        k = times.index(min(times))
        packet = waiting[k]
        assert packet is not None  # the least time is a packet's
        yield packet
        waiting[k] = next(streams[k], None)


def _time(packet: Packet | None) -> float:
    if packet is None:
        return float("inf")
    at = packet.dts if packet.dts is not None else packet.pts
    return float((at or 0) * Fraction(packet.time_base))


def main() -> None:
    """Weave what is asked for on standard input, and say how it went."""
    resource.setrlimit(resource.RLIMIT_AS, (ROOM_BYTES, resource.RLIM_INFINITY))
    order = json.loads(sys.stdin.buffer.read())
    try:
        said = {"says": _weave(order)}
    except (FFmpegError, OSError, MemoryError, ValueError) as error:
        said = {"failed": str(getattr(error, "strerror", "") or error or "there was not enough memory")}
    sys.stdout.write(json.dumps(said) + "\n")


if __name__ == "__main__":
    main()
