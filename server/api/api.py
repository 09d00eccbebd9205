"""The API: its parts, and how refusals are answered (RFC 9457)."""

import logging
import re

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError

from calado.errors import CaladoError, MediaError, RequestError, SheetError
from server.api import bench, exports, looks, projects, read, readings, regions, tables
from server.projects.errors import Duplicate, Missing, MovedOn, NothingTo, Showing, Stale

log = logging.getLogger("calado")
#: a refusal's sentence has at most so many characters
LONGEST = 300

api = NinjaAPI(title="Calado", version="1", docs_url=None, urls_namespace="api")
api.add_router("", projects.router)
api.add_router("", bench.router)
api.add_router("", regions.router)
api.add_router("", readings.router)
api.add_router("", tables.router)
api.add_router("", read.router)
api.add_router("", looks.router)
api.add_router("", exports.router)

#: the first class that fits decides
_STATUS: tuple[tuple[type[CaladoError], int], ...] = (
    (Missing, 404),
    (Stale, 409),
    (Duplicate, 409),
    (NothingTo, 409),
    (MovedOn, 409),
    (Showing, 409),
    (MediaError, 422),
    (SheetError, 422),
    (RequestError, 422),
    (CaladoError, 422),
)


def shortened(title: str) -> str:
    """Return a sentence whose quoted names, which may be of any length, leave it readable."""
    said = re.sub(r"(\w{40})\w{20,}", r"\1…", title)
    return said if len(said) <= LONGEST else f"{said[: LONGEST - 2]}…."


def problem(request: HttpRequest, status: int, title: str, code: str, **more: object) -> HttpResponse:
    """Return a refusal as problem JSON."""
    body = {"type": "about:blank", "title": shortened(title), "status": status, "code": code, **more}
    response = api.create_response(request, body, status=status)
    response["Content-Type"] = "application/problem+json"
    return response


@api.exception_handler(CaladoError)
def refused(request: HttpRequest, error: CaladoError) -> HttpResponse:
    """Answer a refusal of the core or the server."""
    status = next(status for kind, status in _STATUS if isinstance(error, kind))
    more = {key: value for key in ("newest", "shot", "said") if (value := getattr(error, key, None)) is not None}
    return problem(request, status, str(error), error.code, **more)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """Answer a request whose fields are wrong, naming the first."""
    first = error.errors[0]
    place = ".".join(str(step) for step in first["loc"] if step not in ("body", "payload"))
    return problem(request, 422, f"The request is wrong at {place or 'its body'}: {first['msg']}.", "request.invalid")


@api.exception_handler(HttpError)
def http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    """Answer what the framework refuses, such as a body that is not JSON."""
    return problem(request, error.status_code, f"{error}.", "request.unreadable")


@api.exception_handler(Http404)
def not_found(request: HttpRequest, error: Http404) -> HttpResponse:
    """Answer an address that does not exist."""
    return problem(request, 404, "There is nothing at this address.", "missing")


@api.exception_handler(Exception)
def failed(request: HttpRequest, error: Exception) -> HttpResponse:
    """Answer a fault of ours: it is logged with all it says, the answer tells none of it."""
    log.error("%s %s", request.method, request.path, exc_info=error)
    return problem(request, 500, "Calado made a mistake. What was saved is kept; try again.", "fault")
