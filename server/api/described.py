"""The API's description of itself (OpenAPI): refusals as they are answered, and files as what they are."""

from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

PROBLEM = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}


def gives(*kinds: str) -> dict[str, Any]:
    """Return what describes a request that is answered with a file of one of some kinds."""
    content = {kind: {"schema": {"type": "string", "format": "binary"}} for kind in kinds}
    return {"responses": {200: {"description": "The file", "content": content}}}


class Described(NinjaAPI):
    """An API each of whose refusals is problem JSON (RFC 9457)."""

    def get_openapi_schema(self, **more: Any) -> OpenAPISchema:
        """Return the description."""
        made = super().get_openapi_schema(**more)
        for ways in made["paths"].values():
            for way in ways.values():
                for status, response in way["responses"].items():
                    if int(status) >= 400:
                        response["content"] = PROBLEM
                # whatever else is refused: what is not JSON, too large, broken off, or meets a full disk
                way["responses"]["default"] = {"description": "A refusal", "content": PROBLEM}
        return made
