"""The published JSON Schema of a sheet, completed from the declarations."""

from typing import Any

from calado.sheet.declare import Catalogue, Curve, Declaration, Number, Parameter, Reference
from calado.sheet.models import Sheet


def sheet_schema(catalogue: Catalogue) -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of the sheet, with every adjustment and kind of part spelt out."""
    schema: dict[str, Any] = {"$schema": "https://json-schema.org/draft/2020-12/schema", **Sheet.model_json_schema()}
    definitions = schema["$defs"]
    treatment = {
        "type": "object",
        "additionalProperties": False,
        "properties": {a.id: _values(a) for a in catalogue.adjustments.values()},
    }
    for side in ("inside", "outside"):
        definitions["Pass"]["properties"][side] = treatment
    definitions["Part"]["oneOf"] = [
        {"properties": {"kind": {"const": part.id}, "values": _values(part)}} for part in catalogue.parts.values()
    ]
    definitions["Region"]["properties"]["refine"] = _values(catalogue.refine)
    return schema


def _values(declaration: Declaration) -> dict[str, Any]:
    return {
        "type": "object",
        "title": declaration.name,
        "additionalProperties": False,
        "properties": {parameter.id: _parameter(parameter) for parameter in declaration.parameters},
    }


def _parameter(parameter: Parameter) -> dict[str, Any]:
    if isinstance(parameter, Number):
        return {
            "type": "number",
            "title": parameter.name,
            "description": f"unit: {parameter.unit.value}",
            "default": parameter.neutral,
            "minimum": parameter.floor,
            "maximum": parameter.ceiling,
        }
    if isinstance(parameter, Reference):
        return {"type": "string", "title": parameter.name, "maxLength": 40}
    if isinstance(parameter, Curve):
        share = {"type": "number", "minimum": 0, "maximum": 1}
        point = {"type": "array", "items": share, "minItems": 2, "maxItems": 2}
        return {"type": "array", "title": parameter.name, "items": point, "maxItems": 16, "default": []}
    return {
        "enum": [option.id for option in parameter.options],
        "title": parameter.name,
        "default": parameter.neutral,
    }
