"""Clips: frames read, made light and written back, played and exported, against decoding and encoding alone."""

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import av
import numpy as np
from av.video.frame import VideoFrame

from benchmarks.clock import least
from benchmarks.core import Row
from benchmarks.figure import Figure
from calado.catalogue import CATALOGUE
from calado.clip_export import export_clip
from calado.clip_render import ClipOrder, Rendering
from calado.media.clips.clip import Clip
from calado.media.clips.convert import to_codes, to_linear, to_linear_sized
from calado.media.clips.formats import ClipTarget
from calado.media.clips.frames import Frames
from calado.render.engine import Engine, Order
from calado.render.preview import View, render_preview
from calado.sheet.models import Sheet
from calado.sheet.timed import sheet_at
from demo.truths import TRUTH

WALK = TRUTH.parent / "clips" / "walk.mp4"
STAGE = 0.5625
#: three passes: a window that moves, a range, a blurred surround
SHEET = Sheet.model_validate(
    {
        "regions": [
            {
                "id": "oval",
                "name": "oval",
                "parts": [
                    {
                        "id": "o",
                        "kind": "ellipse",
                        "values": {"y": 0.5, "width": 0.5, "height": 0.9, "feather_out": 0.15},
                        "keys": {"x": {"0": {"value": 0.3}, "84": {"value": 1.9}, "143": {"value": 1.0}}},
                    }
                ],
            },
            {"id": "lamps", "name": "lamps", "parts": [{"id": "l", "kind": "luminance", "values": {"low": 0.7}}]},
        ],
        "passes": [
            {"id": "a", "name": "a", "region": "oval", "outside": {"exposure": {"amount": -1.0}}},
            {"id": "b", "name": "b", "region": "lamps", "inside": {"saturation": {"amount": 0.3}}},
            {"id": "c", "name": "c", "region": "oval", "outside": {"blur": {"radius": 0.008}}},
        ],
    }
)
#: so many covers as a page of names has lines, each turned, grown, and going its own way
COVERS = 12


def covered() -> Sheet:
    """Return a sheet with covers that move, at places drawn by a seed."""
    dice = np.random.default_rng(1)
    regions, passes = [], []
    for k in range(COVERS):
        x, y, turn = dice.uniform(0.2, 1.5), dice.uniform(0.1, 0.9), dice.uniform(-40, 40)
        values = {"y": y, "width": 0.15, "height": 0.05, "turn": turn, "feather_out": 0.004}
        keys = {"x": {"0": {"value": x}, "143": {"value": x + 0.1}}}
        part = {"id": "p", "kind": "rectangle", "values": values, "keys": keys}
        regions.append({"id": f"r{k}", "name": f"line {k}", "parts": [part], "refine": {"grow": 0.004}})
        passes.append({"id": f"c{k}", "name": "Cover", "region": f"r{k}", "inside": {"solid": {"amount": 1.0}}})
    return Sheet.model_validate({"regions": regions, "passes": passes})


def rows() -> list[Row]:
    """Return the measurements on one frame of 1280 × 720."""
    with Clip(WALK) as clip:
        tags, frames = clip.facts.tags, Frames(clip, "bench")
        pictures = [clip.picture(n) for n in range(40, 52)]
        lights = [to_linear(picture, tags) for picture in pictures]
        plain_light = least(lambda n: _plain_light(pictures[n].planes), range(12))
        back = least(lambda n: to_codes(lights[n], tags, pictures[n].layout, pictures[n]), range(12))
        engine = Engine(64 * 2**20)
        whole = View("picture", (0, 0, 1280, 720), STAGE)

        def played(n: int) -> None:
            order = Order(sheet_at(SHEET, n, CATALOGUE))
            render_preview(engine, frames.sized(n, STAGE), order, whole)

        lines = Rendering(frames, ClipOrder(covered()), Engine(64 * 2**20), pictures[0].layout)
        return [
            Row("planes to light", least(lambda n: to_linear(pictures[n], tags), range(12)), plain_light),
            Row(
                "… at the stage's size",
                least(lambda n: to_linear_sized(pictures[n], tags, (720, 405)), range(12)),
            ),
            Row("light to planes, chroma carried", back),
            Row("a frame played, three passes, with its JPEG", least(played, range(40, 56))),
            Row("a frame written, twelve covers", least(lambda n: lines.picture(40 + n, pictures[n]), range(12))),
        ]


def _plain_light(planes: tuple[np.ndarray, ...]) -> np.ndarray:
    """Return what straightforward NumPy and OpenCV make of the planes."""
    import cv2

    y, u, v = (plane.astype(np.float32) for plane in planes)
    size = (y.shape[1], y.shape[0])
    cb, cr = ((cv2.resize(each, size, interpolation=cv2.INTER_LINEAR) - 128) / 224 for each in (u, v))
    luma = (y - 16) / 219
    red, blue = luma + 1.5748 * cr, luma + 1.8556 * cb
    signal = np.stack([red, (luma - 0.2126 * red - 0.0722 * blue) / 0.7152, blue])
    magnitude = np.abs(signal)
    light = np.where(magnitude < 0.081, magnitude / 4.5, ((magnitude + 0.0993) / 1.0993) ** (1 / 0.45))
    return np.copysign(light, signal)


def _shares(count: int = 48) -> Iterator[Figure]:
    """Yield what an export with three passes has of the pace of decoding and encoding alone."""
    with tempfile.TemporaryDirectory() as held:
        folder = Path(held)
        large = _again(WALK, folder / "large.mp4", ClipTarget("h264"), count, (1920, 1080))
        for path, id, what in (
            (large, "h264", "export of 1920 × 1080, three passes, H.264, share of decode + encode alone"),
            (WALK, "h264", "… of 1280 × 720, H.264"),
            (WALK, "ffv1", "… of 1280 × 720, FFV1"),
        ):
            target = ClipTarget(id, sound=False)  # type: ignore[arg-type]
            alone, ours = [], []
            # in turn, twice: the machine is not equally quick all the time
            for _ in range(2):
                began = time.perf_counter()
                _again(path, folder / f"a.{target.kind.suffix}", target, count)
                alone.append(time.perf_counter() - began)
                with Clip(path) as clip:
                    began = time.perf_counter()
                    order = ClipOrder(SHEET, frames=(0, count - 1))
                    export_clip(Frames(clip, str(path)), path, order, folder / f"b.{target.kind.suffix}", target)
                    ours.append(time.perf_counter() - began)
            goals = (60, 72) if path is large else (None, None)
            yield Figure(what, 100 * min(alone) / min(ours), "%", *goals, rises=True)


def _again(path: Path, out: Path, target: ClipTarget, count: int, size: tuple[int, int] | None = None) -> Path:
    """Decode a clip's first frames and encode them, of another size if one is given; return ``out``."""
    with av.open(str(path)) as source, av.open(str(out), "w") as written:
        came = source.streams.video[0]
        stream = written.add_stream(target.kind.encoder, rate=24, options=target.options)
        stream.width, stream.height = size or (came.width, came.height)  # type: ignore[union-attr]
        stream.pix_fmt = "yuv420p"  # type: ignore[union-attr]
        stream.codec_context.thread_count = 2
        for number, frame in enumerate(source.decode(video=0)):
            if number == count:
                break
            again: VideoFrame = frame.reformat(*size) if size else frame
            again.pict_type = 0  # type: ignore[assignment]
            written.mux(stream.encode(again))  # type: ignore[arg-type]
        written.mux(stream.encode(None))
    return out


def _reached() -> list[Figure]:
    """Return how long a far frame takes in a clip of a single keyframe, and one that was decoded before."""
    with Clip(WALK) as clip:
        far = least(lambda n: clip.picture(n), [clip.facts.frames - 1], warm=0)
        near = least(lambda n: clip.picture(n), range(20, 60))
    return [
        Figure("the last frame of 144, one keyframe, first time", far.wall * 1e3, "ms"),
        Figure("a frame that was passed before", near.wall * 1e3, "ms"),
    ]


def figures() -> list[Figure]:
    """Return the figures of clips, wall times: what plays and waits is a clock's."""
    made = []
    for row in rows():
        plays = row.what.startswith("a frame played")
        against = row.plain.copies / row.ours.copies if row.plain else None
        made.append(Figure(row.what, row.ours.wall * 1e3, "ms", 40 if plays else None, plain=against))
    return [*made, *_reached(), *_shares()]
