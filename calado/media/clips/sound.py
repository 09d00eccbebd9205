"""A clip's sound for the bench: one file that every browser plays, and its peaks for the ruler.

Made in a process of its own, since the source may be hostile. FLAC is lossless and exact to the sample, so that the
sound is the clock of the pictures.
"""

import json
import resource
import subprocess
import sys
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.audio.frame import AudioFrame
from av.audio.resampler import AudioResampler
from av.error import FFmpegError

from calado.errors import MediaError

ROOM_BYTES = 2 * 2**30
SECONDS = 900
RATE = 48_000
#: peaks a second
PEAKS = 50


def make_sound(source: Path, out: Path) -> None:
    """Write the first track of a clip as FLAC, from the first picture on, and beside it its peaks as JSON, 0…1.

    Raises
    ------
    MediaError
        when there is none that can be read.
    """
    part = out.with_name(f".{out.stem}.part.flac")
    command = [sys.executable, "-m", "calado.media.clips.sound", str(source), str(part)]
    done = subprocess.run(command, capture_output=True, timeout=SECONDS, check=False)
    if done.returncode != 0:
        part.unlink(missing_ok=True)
        raise MediaError("The sound of this clip cannot be read.", code="media.sound")
    out.with_suffix(".json").write_bytes(done.stdout)
    part.replace(out)


def main(source: str, out: str) -> None:
    """Write the sound and say its peaks."""
    resource.setrlimit(resource.RLIMIT_AS, (ROOM_BYTES, resource.RLIM_INFINITY))
    heard: list[np.ndarray] = []
    with av.open(source, options={"protocol_whitelist": "file"}) as container, av.open(out, "w", format="flac") as made:
        track = container.streams.audio[0]
        pictures = container.streams.video[0]
        start = Fraction((pictures.start_time or 0) * Fraction(pictures.time_base or 1))
        stream = made.add_stream("flac", rate=RATE)
        stream.codec_context.layout = "stereo"  # type: ignore[union-attr]
        resampler = AudioResampler("s16", "stereo", RATE)
        written = 0
        for packet in container.demux(track):
            try:
                frames = packet.decode()
            except FFmpegError:
                continue
            for frame in frames:
                for piece in resampler.resample(frame):
                    at = round((Fraction((piece.pts or 0) * Fraction(piece.time_base or 1)) - start) * RATE)
                    samples = piece.to_ndarray().reshape(-1, 2)
                    # silence where there is none yet, nothing of what lies before the first picture
                    if written == 0 and at > 0:
                        samples = np.concatenate([np.zeros((at, 2), samples.dtype), samples])
                    elif written == 0 and at < 0:
                        samples = samples[-at:]
                    if len(samples) == 0:
                        continue
                    heard.append(np.abs(samples.astype(np.float32)).max(axis=1))
                    again = AudioFrame.from_ndarray(samples.reshape(1, -1), format="s16", layout="stereo")
                    again.sample_rate, again.pts, again.time_base = RATE, written, Fraction(1, RATE)
                    written += len(samples)
                    made.mux(stream.encode(again))
        made.mux(stream.encode(None))
    whole = np.concatenate(heard) if heard else np.zeros(1, np.float32)
    step = RATE // PEAKS
    padded = np.pad(whole, (0, -len(whole) % step)).reshape(-1, step)
    sys.stdout.write(json.dumps([round(float(each) / 32768, 3) for each in padded.max(axis=1)]))


if __name__ == "__main__":
    main(*sys.argv[1:])
