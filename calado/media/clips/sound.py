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
from av.audio.stream import AudioStream

from calado.errors import MediaError
from calado.media.clips.samples import RATE, as_frame, samples_of

ROOM_BYTES = 2 * 2**30
SECONDS = 900
#: peaks a second
PEAKS = 50


def make_sound(source: Path, out: Path, start: Fraction = Fraction(0), end: Fraction | None = None) -> None:
    """Write the first track of a clip as FLAC, from the first picture on, and beside it its peaks as JSON, 0…1.

    ``start`` and ``end`` bound it, in seconds; no end: to its own.

    Raises
    ------
    MediaError
        when there is none that can be read.
    """
    part = out.with_name(f".{out.stem}.part.flac")
    command = [sys.executable, "-m", "calado.media.clips.sound", str(source), str(part), str(start), str(end or 0)]
    done = subprocess.run(command, capture_output=True, timeout=SECONDS, check=False)
    if done.returncode != 0:
        part.unlink(missing_ok=True)
        raise MediaError("The sound of this clip cannot be read.", code="media.sound")
    out.with_suffix(".json").write_bytes(done.stdout)
    part.replace(out)


def main(source: str, out: str, start: str, end: str) -> None:
    """Write the sound and say its peaks."""
    resource.setrlimit(resource.RLIMIT_AS, (ROOM_BYTES, resource.RLIM_INFINITY))
    begins, ends = Fraction(start), Fraction(end)
    count = round((ends - begins) * RATE) if ends else None
    heard: list[np.ndarray] = []
    with av.open(source, options={"protocol_whitelist": "file"}) as container, av.open(out, "w", format="flac") as made:
        stream = made.add_stream("flac", rate=RATE)
        assert isinstance(stream, AudioStream)
        stream.codec_context.layout = "stereo"
        written = 0
        for samples in samples_of(container, "s16", begins, count):
            heard.append(np.abs(samples.astype(np.float32)).max(axis=1))
            made.mux(stream.encode(as_frame(samples, "s16", written)))
            written += len(samples)
        made.mux(stream.encode(None))
    whole = np.concatenate(heard) if heard else np.zeros(1, np.float32)
    step = RATE // PEAKS
    padded = np.pad(whole, (0, -len(whole) % step)).reshape(-1, step)
    sys.stdout.write(json.dumps([round(float(each) / 32768, 3) for each in padded.max(axis=1)]))


if __name__ == "__main__":
    main(*sys.argv[1:])
