"""A clip's sound as samples in step with its pictures: silence where there is none, nothing of what is before them."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Any, Literal

import av
import numpy as np
from av.audio.frame import AudioFrame
from av.audio.resampler import AudioResampler
from av.container import InputContainer
from av.error import FFmpegError

#: int16 or int32, shape (N, 2)
Samples = Any
Kind = Literal["s16", "s32"]
#: samples a second
RATE = 48_000
_SILENCE = 8192


def samples_of(
    container: InputContainer, kind: Kind, start: Fraction = Fraction(0), count: int | None = None
) -> Iterator[Samples]:
    """Yield the first track's samples, shape (N, 2), from ``start`` seconds after the first picture on.

    ``count`` is how many there are in all, filled up with silence; None: as many as there are.
    """
    pictures = container.streams.video[0]
    origin = Fraction((pictures.start_time or 0) * Fraction(pictures.time_base or 1)) + start
    tracks = [each for each in container.streams.audio if each.codec_context is not None]
    if start and tracks:
        # well before it: what a decoder needs to be right from there on
        container.seek(int(max(origin - 1, Fraction(0)) * av.time_base), backward=True)
    given = 0
    for at, piece in _decoded(container, kind, origin) if tracks else ():
        samples = piece[max(given - at, 0) :] if at < given else piece
        if given < at:
            yield from _silence(kind, at - given if count is None else min(at, count) - given)
            given = at
        if count is not None:
            samples = samples[: max(count - given, 0)]
        given += len(samples)
        if len(samples):
            yield samples
        if count is not None and given >= count:
            return
    if count is not None:
        yield from _silence(kind, count - given)


def _decoded(container: InputContainer, kind: Kind, origin: Fraction) -> Iterator[tuple[int, Samples]]:
    """Yield pieces of sound, each with the number of its first sample from ``origin`` seconds on."""
    resampler = AudioResampler(kind, "stereo", RATE)
    track = next(each for each in container.streams.audio if each.codec_context is not None)
    for packet in container.demux(track):
        try:
            frames = packet.decode()
        except FFmpegError:
            continue
        for frame in frames:
            for piece in resampler.resample(frame):
                at = round((Fraction((piece.pts or 0) * Fraction(piece.time_base or 1)) - origin) * RATE)
                yield at, piece.to_ndarray().reshape(-1, 2)


def _silence(kind: Kind, count: int) -> Iterator[Samples]:
    while count > 0:
        piece = min(count, _SILENCE)
        yield np.zeros((piece, 2), np.int16 if kind == "s16" else np.int32)
        count -= piece


def as_frame(samples: Samples, kind: Kind, first: int) -> AudioFrame:
    """Return samples, shape (N, 2), as the codec library takes them; ``first`` is the number of the first."""
    frame = AudioFrame.from_ndarray(np.ascontiguousarray(samples).reshape(1, -1), format=kind, layout="stereo")
    frame.sample_rate, frame.pts, frame.time_base = RATE, first, Fraction(1, RATE)
    return frame


def piece_of(frame: AudioFrame, first: int, end: int) -> AudioFrame | None:
    """Return a frame's samples from ``first`` on, up to ``end``, in its own format; None where there are none."""
    first, end = max(first, 0), min(end, frame.samples)
    if first >= end:
        return None
    if first == 0 and end == frame.samples:
        return frame
    held: Samples = frame.to_ndarray()
    each = 1 if frame.format.is_planar else len(frame.layout.channels)
    cut = np.ascontiguousarray(held[:, first * each : end * each])
    made = AudioFrame.from_ndarray(cut, format=frame.format.name, layout=frame.layout.name)
    made.sample_rate = frame.sample_rate
    return made
