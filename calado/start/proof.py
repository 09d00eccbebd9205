"""What was found in a picture and lies under a cover, counted in words; and whether it can still be read there."""

from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np

from calado.arrays import Matte
from calado.detect.find import known_offers, read_in
from calado.detect.net import ModelError
from calado.detect.offer import Offer
from calado.detect.reading import can_read, still_says
from calado.inspect.compare import look_window
from calado.render.encode import screen_codes
from calado.render.engine import Engine, Order
from calado.render.source import Source
from calado.window import Window

#: the longer side, in pixels, in which lines are read, and how many of them at most
READ_SIDE, READ_AT_MOST = 2400, 8
#: so many of them are named
NAMED = 2
#: the words for one and for several of what is counted
COUNTED = (("text", "line of text", "lines of text"), ("face", "face", "faces"))


def found_under(engine: Engine, source: Source, order: Order, pass_id: str) -> str:
    """Return how many of the lines and faces found in a source lie whole under the covers of a pass, or "" for none.

    Nothing is looked for: only what was found before is counted.
    """
    known = known_offers(source)
    window = look_window(source, 1200)
    whole = _hidden(engine, source, order, window, pass_id)
    if not known or whole is None:
        return ""
    said = []
    for name, one, many in COUNTED:
        offers = [offer for offer in known if offer.name == name]
        under = sum(_lies_under(offer, whole, window.pixel) for offer in offers)
        if under:
            said.append(f"{under} of {len(offers)} {many if len(offers) > 1 else one}")
    return f"{' and '.join(said)} found here lie whole under it." if said else ""


@dataclass(frozen=True)
class Legible:
    """What can still be read of lines that lie under a cover, and how many of them were tried."""

    left: tuple[str, ...] = ()
    tried: int = 0

    @property
    def says(self) -> str:
        """What was found, in a sentence; "" where no line was tried."""
        if self.left:
            named = ", ".join(f"“{each}”" for each in self.left[:NAMED])
            return f"Still to be read: {named}{f' and {more} more' if (more := len(self.left) - NAMED) > 0 else ''}."
        if not self.tried:
            return ""
        lines = "the line" if self.tried == 1 else f"{self.tried} lines"
        return f"Under it {lines} cannot be read here any more; who knows the font can still try."


def read_under(engine: Engine, source: Source, order: Order, pass_id: str) -> Legible:
    """Return what can still be read under the covers of a pass.

    Of the lines that were read in the source those are tried that lie whole under it. What this program does not read
    somebody may still know.
    """
    read = [each for each in known_offers(source) if each.reads] if can_read() else []
    tried = lines_under(engine, source, order, pass_id, read)[:READ_AT_MOST]
    if not tried:
        return Legible()
    codes = screen_codes(engine.picture(source, order, look_window(source, READ_SIDE)), source.space)
    try:
        left = tuple(each.reads for each in tried if still_says(each.reads, read_in(codes, each).text))
    except ModelError:  # nothing is claimed
        return Legible()
    return Legible(left, len(tried))


def lines_under(engine: Engine, source: Source, order: Order, pass_id: str, lines: list[Offer]) -> list[Offer]:
    """Return which of some lines lie whole under the covers of a pass."""
    window = look_window(source, READ_SIDE)
    whole = _hidden(engine, source, order, window, pass_id) if lines else None
    return [] if whole is None else [each for each in lines if _lies_under(each, whole, window.pixel)]


def lies_under_a_cover(engine: Engine, source: Source, order: Order, offer: Offer) -> bool:
    """Return whether all of a find lies whole under the covers of all passes together."""
    window = look_window(source, 1200)
    hidden = _hidden(engine, source, order, window)
    return hidden is not None and _lies_under(offer, hidden, window.pixel)


def _hidden(engine: Engine, source: Source, order: Order, window: Window, pass_id: str | None = None) -> Matte | None:
    """Return what the covers of a pass hide, or those of all passes together, shape (H, W); None: there are none."""
    found = [
        matte if matte is not None else np.ones((window.height, window.width), np.float32)
        for cover, matte in engine.hidden(source, order, window)
        if pass_id in (None, cover.pass_id)
    ]
    return np.max(found, axis=0) if found else None


def _lies_under(offer: Offer, hidden: Matte, pixel: float) -> bool:
    """Whether all of a find is hidden; of a face the ellipse, of a line its turned box."""
    left, top, width, height = (float(offer.values[name]) for name in ("x", "y", "width", "height"))  # type: ignore[arg-type]
    way = radians(float(offer.values.get("turn", 0.0)))  # type: ignore[arg-type]
    rows, columns = (np.mgrid[: hidden.shape[0], : hidden.shape[1]] + 0.5) * pixel
    across, down = columns - left, rows - top
    x = (across * cos(way) + down * sin(way)) / (width / 2)
    y = (down * cos(way) - across * sin(way)) / (height / 2)
    inside = x * x + y * y < 1 if offer.name == "face" else np.maximum(np.abs(x), np.abs(y)) < 1
    return bool(inside.any() and hidden[inside].min() >= 1)
