"""A frame of a clip as the engine takes it: a source like any still."""

from collections import OrderedDict
from threading import Lock

import numpy as np

from calado.arrays import Matte, Planes
from calado.media.clips.clip import Clip
from calado.media.clips.convert import to_linear, to_linear_sized
from calado.media.clips.part import ClipPart
from calado.media.clips.planes import Picture
from calado.media.clips.tags import space_of
from calado.render.resample import NO_TABLE
from calado.render.source import SizedSource, Source, frame_source, later_source
from calado.window import grid_size

#: bytes of frames that are kept in linear light, besides the newest; one of 1080 lines takes 25 MB
KEPT_BYTES = 128 * 2**20


def upright(planes: Planes, turn: int) -> Planes:
    """Return planes, shape (3, H, W), turned by ``turn`` degrees anticlockwise, a multiple of 90."""
    return planes if turn == 0 else np.ascontiguousarray(np.rot90(planes, turn // 90, axes=(1, 2)))


def as_stored(planes: Planes, turn: int) -> Planes:
    """Return upright planes as they are stored: the inverse of :func:`upright`."""
    return upright(planes, -turn % 360)


def matte_as_stored(matte: Matte, turn: int) -> Matte:
    """Return an upright matte, shape (H, W), as the clip's pictures are stored."""
    return matte if turn == 0 else np.ascontiguousarray(np.rot90(matte, -turn // 90))


def upright_matte(matte: Matte, turn: int) -> Matte:
    """Return a matte as stored, shape (H, W), upright: the inverse of :func:`matte_as_stored`."""
    return matte if turn == 0 else np.ascontiguousarray(np.rot90(matte, turn // 90))


class Frames:
    """The frames of a clip as sources. Safe to share between threads.

    ``key`` names the file; facts about the whole picture come from frame ``poster`` for all.
    """

    def __init__(self, clip: Clip | ClipPart, key: str, poster: int = 0) -> None:
        self.clip, self.key, self.poster = clip, key, poster
        self._lock = Lock()
        self._kept: OrderedDict[int, Source] = OrderedDict()
        self._facts: Source | None = None

    def source(self, frame: int) -> Source:
        """Return a frame, upright.

        Raises
        ------
        MediaError
            when there is no such frame, or it cannot be decoded.
        """
        with self._lock:
            if frame in self._kept:
                self._kept.move_to_end(frame)
                return self._kept[frame]
        return self.made(frame, self.clip.picture(frame))

    def sized(self, frame: int, scale: float) -> Source:
        """Return a frame at one scale only, for playing; at full size it is the frame itself.

        Raises
        ------
        MediaError
            when there is no such frame, or it cannot be decoded.
        """
        if scale >= 1:
            return self.source(frame)
        facts = self.clip.facts
        width, height = grid_size(facts.width, facts.height, scale)
        stored = (width, height) if facts.turn % 180 == 0 else (height, width)
        planes = upright(to_linear_sized(self.clip.picture(frame), facts.tags, stored), facts.turn)
        return SizedSource(
            f"{self.key} {frame} at {scale:.5f}",
            space_of(facts.tags),
            (planes,),
            NO_TABLE,
            self._whole(frame),
            size=(facts.width, facts.height),
            scale=scale,
        )

    def made(self, frame: int, picture: Picture) -> Source:
        """Return a frame from its planes."""
        facts = self.clip.facts
        most = max(KEPT_BYTES // (12 * facts.width * facts.height), 1)
        with self._lock:
            # room is made before it is needed
            while len(self._kept) >= most:
                self._kept.popitem(last=False)
        planes = upright(to_linear(picture, facts.tags), facts.turn)
        source = frame_source(planes, space_of(facts.tags), f"{self.key} {frame}", self._whole(frame))
        with self._lock:
            self._kept[frame] = source
            while len(self._kept) > most:
                self._kept.popitem(last=False)
        return source

    def _whole(self, frame: int) -> Source | None:
        """Return where facts about the whole picture come from; none: from the frame itself."""
        if frame == self.poster:
            return None
        if self._facts is None:
            facts = self.clip.facts
            size, space = (facts.width, facts.height), space_of(facts.tags)
            self._facts = later_source(size, self._poster, space, f"{self.key} {self.poster}")
        return self._facts

    def _poster(self) -> Planes:
        facts = self.clip.facts
        return upright(to_linear(self.clip.picture(self.poster), facts.tags), facts.turn)
