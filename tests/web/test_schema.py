"""Random requests made from the interface's own description: no server error, and nothing that differs from what it says."""

import re
import shutil

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
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
from rowanseed.web.api.types import LENGTH_PATTERN, MOST_MM

CHECKS = (
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
    unsupported_method,
)
HERE = Answers(frozenset({"testserver"}))


RUNS = settings(
    max_examples=10, deadline=None, derandomize=True, database=None, phases=[Phase.explicit, Phase.generate],
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
                case.call_and_validate(checks=CHECKS)

            try:
                as_it_says()
            except BaseException as error:
                differences.append(f"{operation.method.upper()} {operation.path}: {error}")
    finally:
        app.state.jobs.close()
    assert not differences, "\n\n".join(differences)
    assert seen > 100


@given(text=st.from_regex(re.compile(LENGTH_PATTERN), fullmatch=True))
def test_every_length_that_fits_its_description_is_taken(text):
    assert parse_length(text).mm >= 0


@given(number=st.floats(0, MOST_MM))
def test_every_number_that_fits_is_taken(number):
    assert parse_length(number).mm == number
