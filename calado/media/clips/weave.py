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
from av.audio.resampler import AudioResampler
from av.audio.stream import AudioStream
from av.container import InputContainer, OutputContainer
from av.error import FFmpegError
from av.packet import Packet

from calado.errors import MediaError
from calado.media.clips.facts import ClipFacts
from calado.media.clips.formats import CLIP_FORMATS, ClipTarget
from calado.media.clips.opening import alpha_beside
from calado.media.clips.samples import RATE, as_frame, piece_of, samples_of
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
    sounds = [{"path": str(each.path), "seconds": [str(at) for at in each.seconds]} for each in pieces]
    order = {
        "chunks": [[str(path), first] for path, first in chunks],
        "sounds": sounds if loud else [],
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
    sounds = [(each["path"], *map(Fraction, each["seconds"])) for each in order["sounds"]]
    says = ""
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
        sound: Iterator[Packet] = iter(())
        if len(sounds) == 1:
            path, start, end = sounds[0]
            sound, says = _sound(_opened(path), made, kind.sound, kind.voice, start, end)
        elif sounds:
            sound = _joined(sounds, made, kind.voice)
            says = f"Its sound was joined and encoded anew ({kind.voice.removeprefix('lib')})."
        for packet in _in_order(_pictures(chunks, pictures, rate), sound):
            made.mux(packet)
    part.replace(out)
    return says


def _opened(path: str) -> InputContainer:
    return av.open(path, options={"protocol_whitelist": "file"}, metadata_errors="replace")


def _joined(sounds: list[tuple[str, Fraction, Fraction]], made: OutputContainer, voice: str) -> Iterator[Packet]:
    """Return packets of the first tracks of several files, one after another, each as long as its pictures."""
    stream = made.add_stream(voice, rate=RATE)
    assert isinstance(stream, AudioStream)
    stream.codec_context.layout = "stereo"
    return _encoded(sounds, stream)


def _encoded(sounds: list[tuple[str, Fraction, Fraction]], stream: AudioStream) -> Iterator[Packet]:
    fitted = AudioResampler(stream.format, stream.layout, stream.rate)
    written, seconds = 0, Fraction(0)
    for path, start, end in sounds:
        seconds += end - start
        with _opened(path) as source:
            # to the sample where the pictures are, however often it was rounded before
            for samples in samples_of(source, "s32", start, round(seconds * RATE) - written):
                frame = as_frame(samples, "s32", written)
                written += len(samples)
                for each in fitted.resample(frame):
                    yield from stream.encode(each)
    yield from stream.encode(None)


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


def _sound(
    source: InputContainer, made: OutputContainer, taken: tuple[str, ...], voice: str, start: Fraction, end: Fraction
) -> tuple[Iterator[Packet], str]:
    """Return the packets of all tracks in order, and what is to be said about them."""
    copied: list[AudioStream] = []
    encoded: list[AudioStream] = []
    for track in source.streams.audio:
        if track.codec_context is None:
            continue
        (copied if track.codec_context.name in taken else encoded).append(track)
    into: dict[int, Any] = {track.index: made.add_stream_from_template(track) for track in copied}
    voices = {}
    for track in encoded:
        stream = made.add_stream(voice, rate=48000 if voice == "libopus" else track.rate)
        assert isinstance(stream, AudioStream)
        stream.codec_context.layout = "stereo" if track.codec_context.channels == 2 else track.codec_context.layout
        voices[track.index] = stream
    names = {track.codec_context.name for track in encoded}
    says = f"Its sound ({', '.join(sorted(names))}) was encoded anew ({voice.removeprefix('lib')})."
    return _tracks(source, into, voices, start, end), says if encoded else ""


def _tracks(
    source: InputContainer, into: dict[int, Any], voices: dict[int, Any], start: Fraction, end: Fraction
) -> Iterator[Packet]:
    """Return packets from ``start`` to ``end`` seconds of the source, moved so that it begins at 0."""
    tracks = [track for track in source.streams.audio if track.index in into or track.index in voices]
    encoders = {index: _Anew(stream) for index, stream in voices.items()}
    origin = _origin(source)
    for packet in source.demux(tracks):
        if packet.size == 0 and packet.stream.index in into:
            continue
        if packet.stream.index in into:
            yield from _moved(packet, into[packet.stream.index], start + origin, end + origin)
            continue
        yield from encoders[packet.stream.index].packets(packet, start + origin, end + origin)
    for stream in voices.values():
        yield from stream.encode(None)


class _Anew:
    """Encodes a track anew, from one time to another."""

    def __init__(self, stream: AudioStream) -> None:
        self._stream = stream
        self._fitted = AudioResampler(stream.format, stream.layout, stream.rate)
        #: where the next sample goes, once it has begun
        self._next: int | None = None

    def packets(self, packet: Packet, start: Fraction, end: Fraction) -> Iterator[Packet]:
        """Return what comes of a packet, times in seconds of its own file."""
        for frame in _heard(packet):
            for whole in self._fitted.resample(frame):
                rate = whole.sample_rate
                came = round(((whole.pts or 0) * Fraction(whole.time_base or 1) - start) * rate)
                first = max(came, 0) if self._next is None else self._next
                piece = piece_of(whole, first - came, round((end - start) * rate) - came)
                if piece is None:
                    continue
                piece.pts, piece.time_base = first, Fraction(1, rate)
                self._next = first + piece.samples
                yield from self._stream.encode(piece)


def _heard(packet: Packet) -> list[Any]:
    try:
        return list(packet.decode())
    except FFmpegError:
        return []


def _origin(source: InputContainer) -> Fraction:
    """Return when the pictures begin, in seconds of the file's own time."""
    stream = source.streams.video[0]
    return (stream.start_time or 0) * Fraction(stream.time_base or 1)


def _moved(packet: Packet, stream: AudioStream, start: Fraction, end: Fraction) -> Iterator[Packet]:
    if packet.pts is None:
        return
    tick = Fraction(packet.time_base)
    begins, ends = packet.pts * tick, (packet.pts + (packet.duration or 0)) * tick
    # one packet before: what a decoder needs to be right from the first sample on
    if ends + (packet.duration or 0) * tick < start or begins >= end:
        return
    shift = round(start / tick)
    packet.pts -= shift
    packet.dts = packet.pts if packet.dts is None else packet.dts - shift
    packet.stream = stream
    yield packet


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
