"""The API against its own description: whatever fits it, or nearly, is sent; each answer is one that it promises."""

from collections import Counter
from typing import Any

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import seed as seeded
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from e2e.support import Calado
from tools.campaigns.support import a_shot, ask

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]


def api(count: int, seed: int) -> dict[str, object]:
    """Send so many requests of each kind; return how they were answered."""
    calado = Calado()
    calado.start()
    answers: Counter[str] = Counter()
    broken: list[str] = []
    try:
        at = a_shot(calado)
        _, _, project, _, shot = at.split("/")
        draft = ask(calado, "POST", "/drafts", ask(calado, "GET", f"{at}/bench")[1]["sheet"])[1]["draft"]
        real = {"project": project, "shot": shot, "draft": draft}
        schema = schemathesis.openapi.from_url(f"{calado.address}/api/openapi.json", timeout=60)
        for found in schema.get_all_operations():
            operation = found.ok()
            # what removes is asked to remove what is not there: the others need it
            held = {} if operation.method.upper() == "DELETE" else real
            said = _sent(operation, held, count, seed, answers)
            broken += [f"{operation.label}: {each}" for each in said]
        lost = ask(calado, "GET", f"{at}/bench")[0] != 200
    finally:
        calado.close()
    return {
        "requests": sum(answers.values()),
        "answers": dict(sorted(answers.items())),
        "broken": [*broken[:20], *(["the shot is gone"] if lost else [])],
    }


def _sent(operation: Any, held: dict[str, str], count: int, seed: int, answers: Counter[str]) -> list[str]:
    """Send requests of one kind; return what was wrong with an answer, if anything."""
    wrong: list[str] = []

    @seeded(seed)
    @settings(
        max_examples=count,
        database=None,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy())
    def send(case: Any) -> None:
        case.path_parameters = {**case.path_parameters, **{k: v for k, v in held.items() if k in case.path_parameters}}
        answer = case.call(timeout=60)
        answers[str(answer.status_code)] += 1
        try:
            case.validate_response(answer, checks=CHECKS)
        except (AssertionError, schemathesis.errors.SchemathesisError) as error:
            wrong.append(" ".join(str(error).split())[:400])
        except BaseExceptionGroup as errors:
            wrong.append(" ".join(str(errors.exceptions[0]).split())[:400])

    send()
    return wrong[:2]
