"""Random requests made from the interface's own description: no server error, and nothing that differs from what it says."""

import re
import shutil

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
    unsupported_method,
)

from rowanseed.core.lengths import parse_length
from rowanseed.web import create_app
from rowanseed.web.answers import Answers
from rowanseed.web.api.rules import LENGTHS, RULES, is_told
from rowanseed.web.api.types import LENGTH_PATTERN, MOST_MM
from tests.patience import PATIENCE_S

CHECKS = (
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
    unsupported_method,
)
HERE = Answers(frozenset({"testserver"}))


RUNS = settings(
    max_examples=6, deadline=None, derandomize=True, database=None, phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)  # fmt: skip


def test_the_interface_is_as_it_says(demo_file, tmp_path):
    app = create_app(shutil.copy(demo_file, tmp_path / "api.db"), workers=2, warm=False, answers=HERE)
    described = schemathesis.openapi.from_asgi("/openapi.json", app)
    differences, seen = [], 0
    try:
        for found in described.get_all_operations():
            operation = found.ok()

            @RUNS
            @given(case=operation.as_strategy())
            def as_it_says(case):
                nonlocal seen
                seen += 1
                case.call_and_validate(checks=CHECKS, timeout=PATIENCE_S)

            try:
                as_it_says()
            except BaseException as error:
                differences.append(f"{operation.method.upper()} {operation.path}: {error}")
    finally:
        app.state.jobs.close()
    assert not differences, "\n\n".join(differences)
    assert seen > 80


@pytest.mark.slow
def test_what_keeps_to_the_schema_is_refused_by_rules_that_are_told(demo_file, tmp_path):
    app = create_app(shutil.copy(demo_file, tmp_path / "api.db"), warm=False, answers=HERE)
    described = schemathesis.openapi.from_asgi("/openapi.json", app)
    untold, refused = {}, 0
    try:
        for found in described.get_all_operations():
            operation = found.ok()

            @settings(RUNS, max_examples=4)
            @given(case=operation.as_strategy(generation_mode=GenerationMode.POSITIVE))
            def sent(case):
                nonlocal refused
                answer, path = case.call(timeout=PATIENCE_S), case.operation.path
                for problem in answer.json()["detail"] if answer.status_code == 422 else ():
                    refused += 1
                    if not is_told(path, problem["msg"]):
                        untold.setdefault((path, problem["msg"][:90]), case.body)

            sent()
    finally:
        app.state.jobs.close()
    assert not untold, "\n".join(f"{path}: {message}" for path, message in untold)
    assert refused > 10


def test_every_rule_stands_in_its_operations_description(empty):
    account = empty.get("/openapi.json").json()
    for path, rules in RULES.items():
        description = account["paths"][path]["post"]["description"]
        assert all(sentence in description for _, sentence in (*rules, LENGTHS)), path


@given(text=st.from_regex(re.compile(LENGTH_PATTERN), fullmatch=True))
def test_every_length_that_fits_its_description_is_taken(text):
    assert parse_length(text).mm >= 0


@given(number=st.floats(0, MOST_MM))
def test_every_number_that_fits_is_taken(number):
    assert parse_length(number).mm == number
