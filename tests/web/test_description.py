"""The interface against its own description: cases made from it, never a fault, never an answer that it doesn't describe."""

import unittest
import warnings
from typing import Any

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_headers_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from tests.pictures import as_file, harbour
from tests.stack import shared_stack

_CHECKS = [
    not_a_server_error, status_code_conformance, content_type_conformance, response_headers_conformance,
    response_schema_conformance,
]  # fmt: skip
# Of each operation.
EXAMPLES = 10
# Streams have no end, and what stops everything would stop other tests.
_LEFT_OUT = (("/api/studies/{study_id}/events", "GET"), ("/api/queue", "DELETE"))


def check_all(url: str, known: dict[str, str], examples: int) -> tuple[int, list[str]]:
    """Cases of every operation, half of them with ids that exist; how many were sent, and what went wrong."""
    schema = schemathesis.openapi.from_url(f"{url}/api/openapi.json")
    sent, faults = 0, []
    for found in schema.get_all_operations():
        operation = found.ok()
        if (operation.path, operation.method.upper()) in _LEFT_OUT:
            continue

        @settings(max_examples=examples, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
                  suppress_health_check=list(HealthCheck))  # fmt: skip
        @given(case=operation.as_strategy())
        def each(case: Any) -> None:
            nonlocal sent
            sent += 1
            if sent % 2:
                for name in case.path_parameters or {}:
                    case.path_parameters[name] = known.get(name, case.path_parameters[name])
            case.call_and_validate(base_url=url, checks=_CHECKS, timeout=60)

        try:
            each()
        except BaseException as error:
            faults.append(f"{operation.method.upper()} {operation.path}: {error}"[:1500])
    return sent, faults


class Description(unittest.TestCase):
    def test_nothing_breaks_it(self) -> None:
        stack = shared_stack()
        study = stack.client.post("/studies", files={"file": ("in.png", as_file(harbour(seed=97)))}).json()
        request = {"source_id": study["sources"][0]["id"], "recipe": {"size": 64, "steps": 2}, "spans": []}
        sweep = stack.client.post("/sweeps", json=request).json()
        stack.settled(study["id"], sweep["id"])
        known = {
            "study_id": study["id"], "source_id": study["sources"][0]["id"], "sweep_id": sweep["id"],
            "take_id": sweep["takes"][0]["id"],
        }  # fmt: skip
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            sent, faults = check_all(stack.url, known, EXAMPLES)
        self.assertEqual(faults, [], "\n\n".join(faults))
        self.assertGreater(sent, 300)


if __name__ == "__main__":
    unittest.main()
