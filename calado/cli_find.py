"""``calado find``: what is found in a still, in a frame of a clip or along it, as JSON for other programs."""

import json
from argparse import Namespace
from collections.abc import Callable
from contextlib import ExitStack
from dataclasses import asdict
from pathlib import Path
from typing import Any

from calado.detect.find import find_kind
from calado.detect.offer import Kind, Offer
from calado.errors import RequestError
from calado.media.clips.clip import Clip
from calado.media.clips.frames import Frames
from calado.media.clips.opening import looks_like_clip
from calado.media.clips.sighted import KINDS, sighted
from calado.render.engine import Engine
from calado.render.source import Source

#: what may be asked for, and what the core calls it
FOUND: dict[str, Kind] = {"subjects": "subject", "faces": "face", "lettering": "read", "features": "face"}


def find_in(options: Namespace, source_of: Callable[[Path], Source]) -> None:
    """Print what is found: each with its name, how sure that is, its outline in picture heights, the part it makes.

    Along a clip each thing once, with the runs of frames in which it was seen, as it is where it shows best.

    Raises
    ------
    RequestError
        when a still, or subjects, are to be looked for along a clip.
    ModelError
        when a model's file cannot be used.
    """
    kinds = list(dict.fromkeys(FOUND.values())) if options.what == "all" else [FOUND[options.what]]
    if options.along:
        every: list[Kind] = ["text" if kind == "read" else kind for kind in kinds]
        print(json.dumps(_along(options.source, [kind for kind in every if kind in KINDS]), indent=2))
        return
    with ExitStack() as held:
        if looks_like_clip(options.source):
            clip = held.enter_context(Clip(options.source))
            source = Frames(clip, str(options.source)).source(options.at)
        else:
            source = source_of(options.source)
        offers = [offer for kind in kinds for offer in find_kind(Engine(), source, kind)]
    size = {"width": source.width, "height": source.height}
    print(json.dumps({**size, "found": [_told(offer) for offer in offers]}, indent=2))


def _along(source: Path, kinds: list[Kind]) -> dict[str, Any]:
    if not kinds or not looks_like_clip(source):
        raise RequestError("Along a clip faces and lettering are looked for.", code="find.along")
    with Clip(source) as clip:
        found = sighted(Frames(clip, str(source)), Engine(), kinds=kinds)
        size = {"width": clip.facts.width, "height": clip.facts.height, "every": found.every}
    things = [
        {**_told(each.best.offer), "sure": each.sure, "frame": each.best.frame, "spans": each.spans}
        for each in found.things
    ]
    return {**size, "found": things}


def _told(offer: Offer) -> dict[str, Any]:
    part = {
        "kind": offer.kind,
        "values": offer.values,
        "points": offer.points,
        "strokes": [stroke.model_dump(mode="json", exclude_defaults=True) for stroke in offer.strokes],
    }
    told = {name: each for name, each in asdict(offer).items() if name in ("name", "certainty", "box")}
    return {
        **told,
        **({"features": offer.curves} if offer.closely else {}),
        **({"reads": offer.reads, "private": offer.private} if offer.reads else {}),
        "sure": offer.sure,
        "outline": offer.outline,
        "part": {name: each for name, each in part.items() if each},
    }
