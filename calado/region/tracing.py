"""The outline of a finished region as lines, traced at one size, so that it is the same for every rendering."""

from math import ceil

from calado.region.contours import Contour, contours
from calado.region.matte import Mattes
from calado.region.refine.disc import grown
from calado.region.resolved import ResolvedRegion
from calado.window import Window, full_window

#: pixels of height at which outlines are traced, or the picture's own where it has fewer
HEIGHT = 1080
#: pixels beyond the frame, so that a line does not stop short of it
MARGIN = 3


def tracing_window(window: Window) -> Window:
    """Return the window of the whole picture on which outlines are traced."""
    return full_window(window.picture_width, window.picture_height, min(1.0, HEIGHT / window.picture_height))


def outlines(
    mattes: Mattes, where: ResolvedRegion, window: Window, offset: float = 0.0, level: float = 0.5, beyond: float = 0.0
) -> list[Contour]:
    """Return the lines at a distance ``offset`` outside of a region's outline, in picture heights, the longest first.

    The outline is where the matte is ``level``; a negative offset lies inside. Lines go on ``beyond`` the frame.
    """
    traced = tracing_window(window)
    wide = traced.beyond(MARGIN + ceil(beyond / traced.pixel))
    pixels = offset / wide.pixel
    if pixels == 0:
        return contours(mattes.of(where, wide), wide, level)
    reach = int(abs(pixels)) + 2
    further = wide.beyond(reach)
    rows, columns = wide.inside(further)
    return contours(grown(mattes.of(where, further), pixels)[rows, columns], wide, level)
