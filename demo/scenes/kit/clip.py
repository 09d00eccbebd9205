"""Writing clips: H.264 with AAC, FFV1 with PCM, tagged as Rec. 709; and what is true of their frames."""

import subprocess
from collections.abc import Iterable
from typing import Any

import cv2
import numpy as np
from PIL import Image

from demo.scenes.kit import sound, truths
from demo.scenes.kit.files import CLIPS, TRUTH, temporary

WIDE, HIGH = 1280, 720
TAGS = ("-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709", "-color_range", "tv")
CONVERT = "scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int"
H264 = ("-c:v", "libx264", "-preset", "slow", "-pix_fmt", "yuv420p", "-c:a", "aac", "-b:a", "128k")
FFV1 = ("-c:v", "ffv1", "-level", "3", "-g", "1", "-pix_fmt", "yuv420p", "-c:a", "pcm_s16le")
#: mattes of every so many frames are kept as pictures
EVERY = 4


def write(
    name: str, frames: Iterable[np.ndarray], rate: str, track: np.ndarray, quality: int = 22, lossless: bool = False
) -> None:
    """Write a clip of 8-bit frames (H, W, 3) at a rate such as ``24`` or ``30000/1001``, with a soundtrack."""
    heard = temporary("wav")
    sound.save(CLIPS / heard, track)
    target = CLIPS / f"{name}.{'mkv' if lossless else 'mp4'}"
    ways = FFV1 if lossless else (*H264, "-crf", str(quality), "-movflags", "+faststart")
    writer = None
    for frame in frames:
        if writer is None:
            size = f"{frame.shape[1]}x{frame.shape[0]}"
            seen = ("-f", "rawvideo", "-pix_fmt", "rgb24", "-s", size, "-r", rate, "-i", "-")
            asked = ["ffmpeg", "-v", "error", "-y", *seen, "-i", heard, "-vf", CONVERT, *ways, *TAGS, "-shortest"]
            # so that the same frames give the same file
            asked += ["-map_metadata", "-1", "-fflags", "+bitexact", "-flags:v", "+bitexact", str(target)]
            writer = subprocess.Popen(asked, stdin=subprocess.PIPE)
        assert writer.stdin is not None
        writer.stdin.write(np.ascontiguousarray(frame).tobytes())
    assert writer is not None and writer.stdin is not None
    writer.stdin.close()
    if writer.wait():
        raise RuntimeError(f"{target.name} could not be written.")


def save_matte(clip: str, subject: str, frame: int, matte: np.ndarray) -> None:
    """Write a frame's matte, 0…1, if it is one of those that are kept."""
    if frame % EVERY == 0:
        folder = TRUTH / clip
        folder.mkdir(parents=True, exist_ok=True)
        Image.fromarray(np.rint(np.clip(matte, 0, 1) * 255).astype("u1")).save(
            folder / f"{subject}_{frame:03}.png", optimize=True
        )


def save_truth(name: str, told: dict[str, Any]) -> None:
    """Write what is true of a clip."""
    truths.save("clips", name, told)


def warped(pixels: np.ndarray, to: np.ndarray, size: tuple[int, int] = (WIDE, HIGH), finer: int = 1) -> np.ndarray:
    """Return pixels carried by a homography (pixel centres at whole numbers) into a frame of a size, averaged.

    ``finer`` renders so many times larger first, so that edges are covered exactly.
    """
    if finer == 1:
        return cv2.warpPerspective(pixels, to, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    half = (finer - 1) / 2
    larger = np.array([[finer, 0, half], [0, finer, half], [0, 0, 1.0]]) @ to
    wide = (size[0] * finer, size[1] * finer)
    made = cv2.warpPerspective(pixels, larger, wide, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)
    return cv2.resize(made, size, interpolation=cv2.INTER_AREA)
