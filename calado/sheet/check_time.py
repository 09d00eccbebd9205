"""What a sheet says about frames: spans in order, nothing declared twice."""

from itertools import pairwise

from calado.errors import SheetError
from calado.sheet.models import Pass, Region


def check_declared(region: Region) -> None:
    """Refuse two things that are declared of one frame, and an end before a beginning.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    spans = sorted((int(first), each.last) for first, each in region.covers.items())
    for first, last in spans:
        if last < first:
            raise SheetError(f"Region “{region.name}”: what is declared ends at frame {last}, before it begins.")
    for (_, last), (first, _) in pairwise(spans):
        if first <= last:
            raise SheetError(f"Region “{region.name}”: two things are declared of frame {first}.")


def check_time(each: Pass) -> None:
    """Refuse a span that ends before it begins, and keyed values out of range.

    Raises
    ------
    SheetError
        naming the place and the fault.
    """
    span = each.span
    if span is not None and span.last < span.first:
        raise SheetError(f"Pass “{each.name}” ends at frame {span.last}, before it begins at frame {span.first}.")
    for name, most in (("strength", 2.0), ("mix", 1.0)):
        keys = each.keys.get(name, {})  # type: ignore[call-overload]
        if any(not 0 <= key.value <= most for key in keys.values()):
            raise SheetError(f"Pass “{each.name}”: {name} lies between 0 and {most:g}.", code="sheet.range")
