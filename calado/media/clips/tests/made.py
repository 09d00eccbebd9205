"""Made clips for tests: moving stripes and dots, with a tone, in many codecs and containers."""

import os
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from av.audio.frame import AudioFrame
from av.video.frame import VideoFrame

SIZE = (96, 64)
os.environ.setdefault("SVT_LOG", "1")
RATE = 48_000


def drawing(frame: int, size: tuple[int, int] = SIZE) -> np.ndarray:
    """Return codes (H, W, 3) of a frame, unlike those of any other."""
    rows, columns = np.mgrid[0 : size[1], 0 : size[0]]
    waves = [np.sin((columns + 3 * frame) / (5 + c)) * np.cos((rows - 2 * frame) / (4 + c)) for c in range(3)]
    codes = (np.stack(waves, axis=2) * 90 + 128).astype(np.uint8)
    # the number itself, as a row of bits
    for bit in range(10):
        codes[2:8, 4 + 8 * bit : 10 + 8 * bit] = 235 if frame >> bit & 1 else 20
    return codes


def two_scenes(cut: int) -> Callable[[int, tuple[int, int]], np.ndarray]:
    """Return what draws frames of two scenes, blots that drift; the second begins with frame ``cut``."""

    def scene(frame: int, size: tuple[int, int]) -> np.ndarray:
        blots = np.random.default_rng(frame >= cut).integers(20, 236, (14, 26, 3), np.uint8)
        large = cv2.resize(blots, (size[0] + 80, size[1] + 80), interpolation=cv2.INTER_CUBIC)
        return np.ascontiguousarray(large[frame : frame + size[1], frame : frame + size[0]])

    return scene


#: a card, and how many pixels it goes with each frame
CARD, CARD_STEP = (72, 60), (5, 2)


def going_card(frame: int, size: tuple[int, int]) -> np.ndarray:
    """Draw a frame of a card that goes to the right and down before a grey wall."""
    made = np.full((size[1], size[0], 3), 110, np.uint8)
    blots = np.random.default_rng(4).integers(30, 226, (10, 12, 3), np.uint8)
    x, y = 20 + CARD_STEP[0] * frame, 30 + CARD_STEP[1] * frame
    made[y : y + CARD[1], x : x + CARD[0]] = cv2.resize(blots, CARD, interpolation=cv2.INTER_CUBIC)
    return made


def card_at(frame: int, lines: int) -> tuple[float, float]:
    """Return the card's middle in picture heights, in a picture of so many lines."""
    x, y = (at + side / 2 + step * frame for at, side, step in zip((20, 30), CARD, CARD_STEP, strict=True))
    return x / lines, y / lines


def make(
    path: Path,
    frames: int = 40,
    codec: str = "libx264",
    pix_fmt: str = "yuv420p",
    rate: Fraction = Fraction(25),
    size: tuple[int, int] = SIZE,
    sound: str = "",
    options: dict[str, str] | None = None,
    container: dict[str, str] | None = None,
    uneven: bool = False,
    turn: int = 0,
    tags: tuple[int, int, int, int] | None = (1, 1, 1, 1),
    timecode: str = "",
    shape: Fraction = Fraction(1),
    scene: Callable[[int, tuple[int, int]], np.ndarray] = drawing,
    tune: bool = False,
) -> Path:
    """Write a clip; ``tags`` are range, matrix, primaries and transfer; with a ``tune`` its tone comes and goes."""
    with av.open(str(path), "w", options=container or {}) as out:
        stream = out.add_stream(codec, rate=rate, options=options or {})
        stream.width, stream.height, stream.pix_fmt = *size, pix_fmt
        stream.codec_context.sample_aspect_ratio = shape
        if uneven:
            stream.codec_context.time_base = Fraction(1, 1000)
        if tags:
            context = stream.codec_context
            context.color_range, context.colorspace, context.color_primaries, context.color_trc = tags
        if timecode:
            stream.metadata["timecode"] = timecode
        if turn:
            stream.set_display_rotation(turn)
        track = out.add_stream(sound, rate=RATE) if sound else None
        if track is not None:
            track.codec_context.layout = "mono"
        for number in range(frames):
            frame = VideoFrame.from_ndarray(scene(number, size), format="rgb24").reformat(format=pix_fmt)
            frame.pts = number * 40 + (number % 3) * 9 if uneven else number
            frame.time_base = Fraction(1, 1000) if uneven else 1 / rate
            out.mux(stream.encode(frame))
        if track is not None:
            tone(out, track, float(frames / rate), tune=tune)
        out.mux(stream.encode(None))
    return path


def tone(out: object, track: object, seconds: float, *, tune: bool = False) -> None:
    """Write a tone with a click each tenth of a second; as a tune each quarter is as loud as it happens."""
    samples = np.arange(round(seconds * RATE))
    wave = 0.2 * np.sin(samples / 30) + np.where(samples % (RATE // 10) < 40, 0.7, 0)
    if tune:
        wave = (
            wave
            * np.repeat(np.random.default_rng(1).uniform(0.02, 1, len(wave) // (RATE // 4) + 1), RATE // 4)[: len(wave)]
        )
    step = track.codec_context.frame_size or 1024  # type: ignore[attr-defined]
    for first in range(0, len(wave), step):
        piece = np.ascontiguousarray((wave[first : first + step] * 32000).astype(np.int16))[None]
        frame = AudioFrame.from_ndarray(piece, format="s16", layout="mono")
        frame.sample_rate, frame.pts, frame.time_base = RATE, first, Fraction(1, RATE)
        out.mux(track.encode(frame))  # type: ignore[attr-defined]
    out.mux(track.encode(None))  # type: ignore[attr-defined]


def linear(path: Path) -> list[bytes]:
    """Return the planes' bytes of every frame, decoded from end to end by the codec library."""
    with av.open(str(path)) as file:
        stream = file.streams.video[0]
        found = []
        for packet in file.demux(stream):
            if packet.is_discard:
                stream.codec_context.decode(packet)
                continue
            found += list(stream.codec_context.decode(packet))
        return [b"".join(_plane(frame, k) for k in range(len(frame.planes))) for frame in found]


def _plane(frame: VideoFrame, k: int) -> bytes:
    plane = frame.planes[k]
    kind = np.uint8 if frame.format.components[0].bits == 8 else np.uint16
    whole = np.frombuffer(memoryview(plane), kind).reshape(plane.height, -1)
    return whole[:, : plane.width].tobytes()


def packets(path: Path, kind: str = "audio") -> list[bytes]:
    """Return what the packets of the first track hold."""
    with av.open(str(path)) as file:
        return [bytes(packet) for packet in file.demux(getattr(file.streams, kind)[0]) if packet.size]
