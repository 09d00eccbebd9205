"""Addresses: the API, and the page for everything else."""

import shutil
from pathlib import Path

from django.conf import settings
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import URLPattern, URLResolver, path, re_path

from calado import __version__
from server.api.api import api
from server.projects.models import Project

#: with less on the disk it is not well
LEAST_FREE_BYTES = 200 * 2**20


def page(request: HttpRequest) -> HttpResponse:
    """Return the web page; it finds its own way by the address."""
    file = Path(settings.WEB_BUILD) / "index.html"
    if not file.exists():
        sentence = "The web part is not built yet. Run “make demo”, or “make web”."
        return HttpResponse(sentence, status=503, content_type="text/plain; charset=utf-8")
    return HttpResponse(file.read_bytes(), headers={"Cache-Control": "no-cache"})


def healthz(request: HttpRequest) -> JsonResponse:
    """Return whether the database can be read and the disk has room, and which version this is."""
    try:
        Project.objects.exists()
        database = "ok"
    except DatabaseError:
        database = "unreadable"
    free = shutil.disk_usage(settings.DATA_ROOT).free
    well = database == "ok" and free > LEAST_FREE_BYTES
    said = {"ok": well, "version": __version__, "database": database, "disk_free_mb": free // 2**20}
    return JsonResponse(said, status=200 if well else 503)


def nothing(request: HttpRequest, address: str) -> JsonResponse:
    """Answer an API address that does not exist."""
    problem = {"type": "about:blank", "title": "There is nothing at this address.", "status": 404, "code": "missing"}
    return JsonResponse(problem, status=404, content_type="application/problem+json")


urlpatterns: list[URLPattern | URLResolver] = [
    path("healthz", healthz),
    path("api/", api.urls),
    path("api/<path:address>", nothing),
    re_path(r"^(?!api/|assets/|healthz)", page),
]
