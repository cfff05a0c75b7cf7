"""A client that is signed in: the refusals of a stranger are quick and say nothing."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from fastapi.testclient import TestClient

from vadum.heap import keep_for_good
from vadum.records.database import session_on
from vadum.records.people import add_person, anybody
from vadum.web.app import create_app


@contextmanager
def technician(database: Path) -> Iterator[TestClient]:
    """Yield a client of a demonstration laboratory, signed in as a technician."""
    app = create_app(database, demo=True)
    with session_on(app.state.engine) as session:
        if not anybody(session):
            add_person(session, "manager", "manager")
            add_person(session, "technician 1", "technician")
    # As the command that serves a laboratory does.
    keep_for_good()
    # Unpacking what comes is the phone's work; packing is a third of a millisecond.
    plain = {"accept-encoding": "identity"}
    address = "http://127.0.0.1"
    with TestClient(app, address, raise_server_exceptions=False, follow_redirects=False, headers=plain) as client:
        answer = client.post("/sign-in", data={"name": "technician 1"})
        assert answer.status_code == 303, answer.text
        yield client
