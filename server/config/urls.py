"""Addresses: the API, and the page for everything else."""

from pathlib import Path

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import URLPattern, URLResolver, path, re_path

from server.api.api import api


def page(request: HttpRequest) -> HttpResponse:
    """Return the web page; it finds its own way by the address."""
    file = Path(settings.WEB_BUILD) / "index.html"
    if not file.exists():
        sentence = "The web part is not built yet. Run “make demo”, or “make web”."
        return HttpResponse(sentence, status=503, content_type="text/plain; charset=utf-8")
    return HttpResponse(file.read_bytes(), headers={"Cache-Control": "no-cache"})


def nothing(request: HttpRequest, address: str) -> JsonResponse:
    """Answer an API address that does not exist."""
    problem = {"type": "about:blank", "title": "There is nothing at this address.", "status": 404, "code": "missing"}
    return JsonResponse(problem, status=404, content_type="application/problem+json")


urlpatterns: list[URLPattern | URLResolver] = [
    path("api/", api.urls),
    path("api/<path:address>", nothing),
    re_path(r"^(?!api/|assets/)", page),
]
