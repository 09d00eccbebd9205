"""The packets of a clip's sound as they are woven in: copied where a container takes them, else encoded anew."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from av.audio.resampler import AudioResampler
from av.audio.stream import AudioStream
from av.container import InputContainer, OutputContainer
from av.error import FFmpegError
from av.packet import Packet

from calado.media.clips.formats import ClipFormat
from calado.media.clips.samples import RATE, as_frame, piece_of, samples_of
from calado.media.clips.side import begin_of, opened


def sound_packets(
    pieces: list[tuple[str, Fraction, Fraction]], made: OutputContainer, kind: ClipFormat
) -> tuple[Iterator[Packet], str]:
    """Return the packets of sound, and what is to be said about them."""
    if len(pieces) > 1:
        said = f"Its sound was joined and encoded anew ({kind.voice.removeprefix('lib')})."
        return _joined(pieces, made, kind.voice), said
    path, start, end = pieces[0]
    return _alone(opened(path), made, kind.sound, kind.voice, start, end)


def _alone(
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
    origin = begin_of(source)
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
        with opened(path) as source:
            # to the sample where the pictures are, however often it was rounded before
            for samples in samples_of(source, "s32", start, round(seconds * RATE) - written):
                frame = as_frame(samples, "s32", written)
                written += len(samples)
                for each in fitted.resample(frame):
                    yield from stream.encode(each)
    yield from stream.encode(None)
