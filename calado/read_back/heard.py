"""The sound of a clip that was written, against that of its sources: as loud, at the same moments, as many tracks.

Compared are the levels of short blocks of the first track, so that a codec's own noise counts as nothing, and sound of
another moment, or none, does.
"""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from calado.clip_chunks import Take
from calado.media.clips.samples import RATE, samples_of
from calado.media.clips.side import opened
from calado.media.clips.weave import Heard

#: samples of a block; decibels below which a block counts as silent, and by which two may differ
BLOCK, SILENT, APART = RATE // 25, -55.0, 6.0
#: share of the blocks that may differ, and seconds by which the whole may be longer or shorter
FEW, LONGER = 0.05, 0.1


def differs_in_sound(takes: Sequence[Take], path: Path) -> Iterator[str]:
    """Yield in what the sound of a file is not that of the clips it was written of; one without sound has none."""
    with opened(str(path)) as made:
        tracks = len(made.streams.audio)
        there = _levels(samples_of(made, "s16")) if tracks else np.zeros(0)
    ordered = max(len(take.facts.sound) for take in takes)
    if not tracks:
        return
    # pieces that are joined have one track
    if len(takes) == 1 and tracks != ordered:
        yield f"It has {tracks} tracks of sound, the source {ordered}."
    spans = [Heard(take.path, take.facts, take.range).seconds for take in takes]
    came = np.concatenate([_of(take.path, *span) for take, span in zip(takes, spans, strict=True)])
    late = (len(there) - len(came)) * BLOCK / RATE
    if abs(late) > LONGER:
        yield f"Its sound is {abs(late):.1f} s {'longer' if late > 0 else 'shorter'} than what was ordered."
    share = _apart(came, there)
    if share > FEW:
        yield f"Its sound is not the source's in {100 * share:.0f} % of its time."


def _of(path: Path, start: Fraction, end: Fraction) -> NDArray[np.float64]:
    """Return the levels of a piece of a source; silence where it has none."""
    with av.open(str(path), options={"protocol_whitelist": "file"}) as source:
        return _levels(samples_of(source, "s16", start, round((end - start) * RATE)))


def _levels(pieces: Iterator[NDArray[np.int16]]) -> NDArray[np.float64]:
    """Return the level of each block, in decibels below full scale."""
    levels, left = [], np.zeros((0, 2), np.int16)
    for piece in pieces:
        joined = np.concatenate([left, piece])
        whole = len(joined) // BLOCK * BLOCK
        blocks = joined[:whole].astype(np.float64).reshape(-1, BLOCK * 2) / 32768
        levels.append(np.sqrt((blocks**2).mean(axis=1)))
        left = joined[whole:]
    every = np.concatenate(levels) if levels else np.zeros(0)
    return np.asarray(20 * np.log10(np.maximum(every, 1e-6)))


def _apart(came: NDArray[np.float64], there: NDArray[np.float64]) -> float:
    """Return in which share of the blocks two differ; a block that has such a one next to it does not."""
    count = min(len(came), len(there))
    a, b = (np.maximum(each[:count], SILENT) for each in (came, there))
    if not count:
        return 0.0
    # an edge may fall into the next block
    beside = np.pad(a, 1, mode="edge")
    near = np.min([np.abs(b - beside[k : k + count]) for k in range(3)], axis=0)
    return float((near > APART).mean())
