"""What every answer carries and every request must prove."""

from collections.abc import Callable
from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse, JsonResponse

Next = Callable[[HttpRequest], HttpResponse]

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; connect-src 'self';"
    " img-src 'self' blob: data:; media-src 'self' blob:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)


def content_policy(answer: Next) -> Next:
    """Allow nothing in the page that did not come from here."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = answer(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("Referrer-Policy", "no-referrer")
        return response

    return middleware


def _place(origin: str) -> str | None:
    """Return the host and port of an origin, or None where it is no address."""
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None


def same_origin(answer: Next) -> Next:
    """Refuse changes that another site's page asks for (attack: cross-site request forgery)."""

    def middleware(request: HttpRequest) -> HttpResponse:
        origin = request.headers.get("Origin")
        safe = request.method in ("GET", "HEAD", "OPTIONS")
        if not safe and origin is not None and _place(origin) != request.get_host():
            problem = {"title": "Another site's page asked for this change; it was refused.", "status": 403}
            return JsonResponse(problem | {"code": "origin"}, status=403, content_type="application/problem+json")
        return answer(request)

    return middleware
