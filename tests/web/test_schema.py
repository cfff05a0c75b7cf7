"""Anything may be sent to any route: no failure of the server, no answer that the published schema does not promise."""

import shutil

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis.checks import CHECKS, load_all_checks

from vadum.web.app import create_app

load_all_checks()
PROMISED = CHECKS.get_by_names(
    ["not_a_server_error", "status_code_conformance", "content_type_conformance", "response_schema_conformance"]
)
FEW = settings(
    max_examples=8, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck)
)  # fmt: skip


def _published(demo_database, folder):
    path = folder / "lab.sqlite"
    for suffix in ("", "-wal"):
        source = demo_database.with_name(demo_database.name + suffix)
        if source.exists():
            shutil.copy(source, f"{path}{suffix}")
    return schemathesis.openapi.from_asgi("/api/openapi.json", create_app(path))


@pytest.fixture(scope="module")
def laboratory(demo_database, tmp_path_factory):
    """All routes but those of people, in a laboratory where everybody may do everything."""
    schema = _published(demo_database, tmp_path_factory.mktemp("all"))
    return schema.exclude(path_regex="^/(people|tokens|sign-in|sign-out)")


@pytest.fixture(scope="module")
def doors(demo_database, tmp_path_factory):
    """The routes of people: the first of them closes the laboratory to whoever is not signed in."""
    return _published(demo_database, tmp_path_factory.mktemp("doors")).include(path_regex="^/(people|tokens|sign)")


def _try(schema, subtests):
    for found in schema.get_all_operations():
        operation = found.ok()

        @FEW
        @given(case=operation.as_strategy(), known=st.none() | st.integers(1, 58))
        def sent(case, known):
            for name in case.path_parameters if known else ():
                if name.endswith("_id"):
                    case.path_parameters[name] = known
            case.call_and_validate(checks=PROMISED)

        with subtests.test(msg=operation.label):
            sent()


def test_every_route_keeps_what_its_schema_promises(laboratory, subtests):
    _try(laboratory, subtests)


def test_the_routes_of_people_keep_what_their_schema_promises(doors, subtests):
    _try(doors, subtests)
