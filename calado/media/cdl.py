"""Reading and writing colour decision lists: .cc (one), .ccc (a collection) and .cdl (a decision list).

References
----------
ASC-CDL: the XML of version 1.2.
"""

from collections.abc import Mapping
from xml.etree import ElementTree

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from calado.adjust.light.cdl import CDL
from calado.errors import MediaError
from calado.sheet.declare import Number

MOST_BYTES = 4 * 2**20
_MORE = "This colour decision list is too large or holds more than corrections."
NAMESPACE = "urn:ASC:CDL:v1.2"


def read_cdl(data: bytes) -> list[tuple[str, dict[str, float]]]:
    """Return the corrections of a .cc, .ccc or .cdl file: the name and the values of each.

    Raises
    ------
    MediaError
        for what is no such file, and for numbers out of range.
    """
    if len(data) > MOST_BYTES:
        raise MediaError(_MORE, code="media.cdl")
    try:
        # a document type could make a small file grow without end (attack by entities), in any encoding
        root = fromstring(data, forbid_dtd=True)
    except DefusedXmlException as error:
        raise MediaError(_MORE, code="media.cdl") from error
    except (ElementTree.ParseError, ValueError, LookupError) as error:
        raise MediaError(f"This is not a colour decision list: {error}.", code="media.cdl") from error
    found = [each for each in root.iter() if _local(each) == "ColorCorrection"]
    if not found:
        raise MediaError("This file holds no ColorCorrection. Choose a .cc, .ccc or .cdl file.", code="media.cdl")
    return [(each.get("id", f"correction {k}"), _values(each)) for k, each in enumerate(found, start=1)]


def _local(element: ElementTree.Element) -> str:
    return element.tag.rsplit("}", 1)[-1]


def _values(correction: ElementTree.Element) -> dict[str, float]:
    values: dict[str, float] = {}
    for each in correction.iter():
        name = _local(each).lower()
        if name in ("slope", "offset", "power"):
            three = _numbers(each.text or "", 3)
            values.update({f"{name}_{c}": number for c, number in zip("rgb", three, strict=True)})
        elif name == "saturation":
            values["saturation"] = _numbers(each.text or "", 1)[0]
    for id, value in values.items():
        number = CDL.parameter(id)
        assert isinstance(number, Number)  # as declared
        if not number.floor <= value <= number.ceiling:
            raise MediaError(
                f"{number.name} must lie between {number.floor:g} and {number.ceiling:g}, got {value:g}.",
                code="media.cdl",
            )
    return values


def _numbers(text: str, count: int) -> list[float]:
    try:
        values = [float(word) for word in text.split()]
    except ValueError as error:
        raise MediaError(f"“{text.strip()[:40]}” is not made of numbers.", code="media.cdl") from error
    if len(values) != count:
        raise MediaError(f"{count} numbers are needed, got {len(values)}.", code="media.cdl")
    return values


def write_cdl(corrections: list[tuple[str, Mapping[str, float]]], form: str) -> bytes:
    """Return a file of the form ``cc`` (the first correction alone), ``ccc`` or ``cdl``."""
    elements = [_element(name, values) for name, values in corrections]
    if form == "cc":
        root = elements[0]
        root.set("xmlns", NAMESPACE)
    elif form == "ccc":
        root = ElementTree.Element("ColorCorrectionCollection", xmlns=NAMESPACE)
        root.extend(elements)
    else:
        root = ElementTree.Element("ColorDecisionList", xmlns=NAMESPACE)
        for each in elements:
            ElementTree.SubElement(root, "ColorDecision").append(each)
    ElementTree.indent(root)
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root, encoding="utf-8") + b"\n"


def _element(name: str, values: Mapping[str, float]) -> ElementTree.Element:
    complete = CDL.all_numbers(values)
    correction = ElementTree.Element("ColorCorrection", id=name)
    node = ElementTree.SubElement(correction, "SOPNode")
    for tag in ("Slope", "Offset", "Power"):
        ElementTree.SubElement(node, tag).text = " ".join(f"{complete[f'{tag.lower()}_{c}']:.6g}" for c in "rgb")
    node = ElementTree.SubElement(correction, "SatNode")
    ElementTree.SubElement(node, "Saturation").text = f"{complete['saturation']:.6g}"
    return correction
