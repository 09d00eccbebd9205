"""A served Calado for a campaign, and how it is asked."""

import json
from http.client import HTTPException
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from e2e.support import Calado

#: what a server that was killed answers with
SILENT = (URLError, OSError, HTTPException)


def ask(calado: Calado, method: str, path: str, body: Any = None) -> tuple[int, Any]:
    """Return the status and the answer."""
    data = None if body is None else json.dumps(body).encode()
    request = Request(f"{calado.address}/api{path}", data, {"Content-Type": "application/json"}, method=method)
    try:
        with urlopen(request, timeout=30) as answer:
            content = answer.read()
            return answer.status, json.loads(content) if content[:1] in (b"{", b"[") else content
    except HTTPError as error:
        return error.code, json.loads(error.read() or b"{}")


def a_shot(calado: Calado) -> str:
    """Return the API's path of a shot of the demo."""
    project = ask(calado, "GET", "/projects")[1][0]["id"]
    shot = ask(calado, "GET", f"/projects/{project}")[1]["shots"][0]["id"]
    return f"/projects/{project}/shots/{shot}"


def own_pass(editor: int, value: int) -> dict[str, Any]:
    """Return the step by which an editor writes a value into a pass of its own."""
    return {"passes": [{"id": f"editor-{editor}", "name": f"value {value}"}]}
