"""Anything may be sent to any route: no failure of the server, no answer that the published schema does not promise."""

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from itsdangerous import URLSafeSerializer
from schemathesis.checks import CHECKS, load_all_checks
from sqlmodel import Session

from tests import THOROUGH
from tests.records.small_laboratory import copy_of
from vadum.records.database import open_database
from vadum.records.people import add_person, sign_in
from vadum.web.access import COOKIE
from vadum.web.app import create_app

load_all_checks()
PROMISED = CHECKS.get_by_names(
    ["not_a_server_error", "status_code_conformance", "content_type_conformance", "response_schema_conformance"]
)
SERVER = CHECKS.get_by_names(["not_a_server_error"])
FEW = settings(
    max_examples=40 if THOROUGH else 2,
    deadline=None,
    derandomize=not THOROUGH,
    database=None,
    suppress_health_check=list(HealthCheck),
)


def _published(demo_database, folder):
    path = copy_of(demo_database, folder)
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


@pytest.fixture(scope="module")
def staffed(demo_database, tmp_path_factory):
    """A laboratory with people, and a token for a manager, a technician and a reader; nobody has none."""
    path = copy_of(demo_database, tmp_path_factory.mktemp("staffed"))
    tokens = {"nobody": ""}
    with Session(open_database(path)) as session:
        for role, scope in (("manager", ""), ("technician", "measure"), ("reader", "read")):
            person = add_person(session, role, role, "long enough for all")
            # A manager's own session does all; it goes through the schema as a token does, under its cookie.
            tokens[role] = sign_in(session, person, token_name="schema" if scope else "", scope=scope)
    return path, tokens


# Who may do everything walks every route below, and the table of access sends every role to every door: what is left
# to find for a role is what a refusal makes of odd things sent.
@pytest.mark.skipif(not THOROUGH, reason="every route for every role with anything: make thorough")
@pytest.mark.parametrize("role", ["manager", "technician", "reader", "nobody"])
def test_no_role_makes_the_server_fail(staffed, subtests, role):
    path, tokens = staffed
    app = create_app(path)
    headers = {}
    if role == "manager":
        headers["Cookie"] = f"{COOKIE}={URLSafeSerializer(app.state.cookie_key, salt='session').dumps(tokens[role])}"
    elif tokens[role]:
        headers["Authorization"] = f"Bearer {tokens[role]}"
    answers = {"manager": 200, "technician": 403, "reader": 403, "nobody": 303}
    assert TestClient(app).get("/people", headers=headers, follow_redirects=False).status_code == answers[role]
    schema = schemathesis.openapi.from_asgi("/api/openapi.json", app)
    # What lets people go would end the walk.
    _try(schema.exclude(path_regex="^/(people|tokens|sign-out|password)"), subtests, headers, SERVER)


def _try(schema, subtests, headers=None, checks=PROMISED):
    for found in schema.get_all_operations():
        operation = found.ok()

        @FEW
        @given(case=operation.as_strategy(), known=st.none() | st.integers(1, 58))
        def sent(case, known):
            for name in case.path_parameters if known else ():
                if name.endswith("_id"):
                    case.path_parameters[name] = known
            # However busy the machine is.
            case.call_and_validate(checks=checks, headers=headers or {}, timeout=600)

        with subtests.test(msg=operation.label):
            sent()


def test_every_route_keeps_what_its_schema_promises(laboratory, subtests):
    _try(laboratory, subtests)


def test_the_routes_of_people_keep_what_their_schema_promises(doors, subtests):
    _try(doors, subtests)
