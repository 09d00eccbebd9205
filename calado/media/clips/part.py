"""Some frames of a clip as a clip of their own: shots that share one file."""

from dataclasses import replace

from calado.errors import MediaError
from calado.media.clips.clip import Clip
from calado.media.clips.facts import ClipFacts
from calado.media.clips.planes import Picture
from calado.media.clips.timecode import advanced


class ClipPart:
    """``count`` frames of an open clip from frame ``first`` on, counted from 0; the clip stays open with it.

    Raises
    ------
    MediaError
        when the clip does not have them.
    """

    def __init__(self, clip: Clip, first: int, count: int) -> None:
        whole = clip.facts
        if first < 0 or count < 1 or first + count > whole.frames:
            raise MediaError(f"This file has frames 0 to {whole.frames - 1}.", code="media.frame")
        self._clip, self._first = clip, first
        code = advanced(whole.timecode, first, whole.rate)
        self.facts: ClipFacts = replace(whole, frames=count, first=first, timecode=code)

    @property
    def alive(self) -> bool:
        """Whether the clip's process is there."""
        return self._clip.alive

    def picture(self, frame: int, *, onward: bool = False) -> Picture:
        """Return the planes of a frame, as stored; ``onward``: those before it are not wanted any more.

        Raises
        ------
        MediaError
            when there is no such frame, or it cannot be decoded.
        """
        if not 0 <= frame < self.facts.frames:
            raise MediaError(f"This clip has frames 0 to {self.facts.frames - 1}, got {frame}.", code="media.frame")
        return self._clip.picture(self._first + frame, onward=onward)
