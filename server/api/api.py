"""The API: its parts, and how refusals are answered (RFC 9457)."""

import errno
import logging
import re

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja.errors import HttpError, ValidationError

from calado.errors import CaladoError, MediaError, RequestError, SheetError
from calado.sheet.check import in_words
from server.api import (
    bench,
    clips,
    draft,
    exports,
    finding,
    jobs,
    looks,
    measurements,
    projects,
    regions,
    sampling,
    tables,
)
from server.api.described import Described
from server.jobs.uploading import Busy, OutOfStep
from server.projects.errors import DraftGone, Duplicate, Missing, MovedOn, NothingTo, Showing, Stale

log = logging.getLogger("calado")
#: a refusal's sentence has at most so many characters
LONGEST = 300
FULL = "The disk is full, so nothing was saved. Make room on it, then go on: what was saved before is kept."
READ_ONLY = "Calado's data folder may not be written to, so nothing was saved. Give it back its rights, then go on."
DAMAGED = "Calado's database is damaged. Stop Calado and bring back a backup: manage.py restore (docs/data.md)."
#: what the system and the database say, as people need it
DISK = {errno.ENOSPC: FULL, errno.EDQUOT: FULL, errno.EROFS: READ_ONLY, errno.EACCES: READ_ONLY, errno.EPERM: READ_ONLY}
DATABASE = {
    "full": FULL,
    "readonly": READ_ONLY,
    "unable to open": READ_ONLY,
    "malformed": DAMAGED,
    "not a database": DAMAGED,
    "no such table": DAMAGED,
    "disk i/o": DAMAGED,
    "locked": "The database is busy just now, so nothing was saved. Try again in a moment.",
}

api = Described(title="Calado", version="1", docs_url=None, urls_namespace="api")
api.add_router("", projects.router)
api.add_router("", bench.router)
api.add_router("", draft.router)
api.add_router("", regions.router)
api.add_router("", measurements.router)
api.add_router("", tables.router)
api.add_router("", sampling.router)
api.add_router("", looks.router)
api.add_router("", exports.router)
api.add_router("", clips.router)
api.add_router("", jobs.router)
api.add_router("", finding.router)

#: the first class that fits decides
_STATUS: tuple[tuple[type[CaladoError], int], ...] = (
    (Missing, 404),
    (OutOfStep, 409),
    (Busy, 423),
    (DraftGone, 404),
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
    told = ("newest", "shot", "said", "theirs", "yours")
    more = {key: value for key in told if (value := getattr(error, key, None)) is not None}
    return problem(request, status, str(error), error.code, **more)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """Answer a request whose fields are wrong, naming the first."""
    first = error.errors[0]
    place = ".".join(str(step) for step in first["loc"] if step not in ("body", "payload"))
    says = f"The request is wrong at {place or 'its body'}: {in_words(first)}."
    return problem(request, 422, says, "request.invalid")


@api.exception_handler(HttpError)
def http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    """Answer what the framework refuses, such as a body that is not JSON."""
    return problem(request, error.status_code, f"{error}.", "request.unreadable")


@api.exception_handler(RequestDataTooBig)
def too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    """Answer a body that is larger than any sheet."""
    most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 2**20
    return problem(request, 413, f"This request is larger than the {most} MB that Calado takes.", "request.large")


@api.exception_handler(MultiPartParserError)
def malformed(request: HttpRequest, error: MultiPartParserError) -> HttpResponse:
    """Answer an upload that is no form."""
    return problem(request, 400, "This upload cannot be read: its form is broken off or wrong.", "request.unreadable")


@api.exception_handler(UnreadablePostError)
def broken_off(request: HttpRequest, error: UnreadablePostError) -> HttpResponse:
    """Answer a body that did not arrive whole."""
    return problem(request, 408, "This request did not arrive whole. Send it again.", "request.incomplete")


@api.exception_handler(OSError)
def on_disk(request: HttpRequest, error: OSError) -> HttpResponse:
    """Answer what the disk does not let us do, in a sentence that is true of it."""
    title = DISK.get(error.errno or 0)
    if title is None:
        return failed(request, error)
    log.error("%s %s", request.method, request.path, exc_info=error)
    return problem(request, 507, title, "disk")


@api.exception_handler(DatabaseError)
def in_database(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    """Answer what the database does not let us do."""
    said = str(error).lower()
    title = next((title for word, title in DATABASE.items() if word in said), None)
    if title is None:
        return failed(request, error)
    log.error("%s %s", request.method, request.path, exc_info=error)
    return problem(request, 503 if "locked" in said else 507, title, "database")


@api.exception_handler(Http404)
def not_found(request: HttpRequest, error: Http404) -> HttpResponse:
    """Answer an address that does not exist."""
    return problem(request, 404, "There is nothing at this address.", "missing")


@api.exception_handler(Exception)
def failed(request: HttpRequest, error: Exception) -> HttpResponse:
    """Answer a fault of ours: it is logged with all it says, the answer tells none of it."""
    log.error("%s %s", request.method, request.path, exc_info=error)
    return problem(request, 500, "Calado made a mistake. What was saved is kept; try again.", "fault")
