"""A new laboratory: what is still to do stands on its first page, each line gone once it is done."""

import re
from io import BytesIO

import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader
from sqlmodel import Session, select

from tests.printed import words_of
from tests.web.hands import PASSWORD, signed_in
from vadum.records.tables import Test
from vadum.report.labels import Label, labels
from vadum.web.app import create_app


@pytest.fixture
def empty(tmp_path):
    return create_app(tmp_path / "new.sqlite")


def left(client):
    page = client.get("/").text
    part = page.partition('data-testid="to-do"')[2].partition("</section>")[0]
    return re.findall(r'class="what"\s+href="[^"]*">([^<]+)<', part)


def test_each_line_is_gone_once_it_is_done(empty):
    nobody = TestClient(empty)
    assert left(nobody) == ["Register the manager"]
    form = {"name": "manager", "role": "manager", "password": PASSWORD, "code": empty.state.first_code}
    assert nobody.post("/people", data=form, follow_redirects=False).status_code == 303
    manager = signed_in(empty, "manager")
    every = ["Letterhead", "Time zone", "How tests are run here", "People", "Equipment", "Tins", "First project"]
    assert left(manager) == every

    def done(what, path, **form):
        reply = manager.post(path, data=form)
        assert reply.status_code == 200, reply.text
        every.remove(what)
        assert left(manager) == every

    done("Letterhead", "/letterhead", name="Low Weir Soils")
    done("Time zone", "/zone", zone="Europe/Lisbon")
    done("How tests are run here", "/presets/liquid-limit", school="one-point")
    done("People", "/people", name="technician", role="technician", password=PASSWORD)
    done("Equipment", "/equipment", name="Balance 1", kind="balance")
    done("Tins", "/equipment/tins", text="T-1 21.43", keeps="yes")
    done("First project", "/projects", name="Low Weir")
    assert "Before the first sheet" not in manager.get("/").text


def test_who_may_not_do_it_is_not_sent_there(empty):
    form = {"name": "manager", "role": "manager", "password": PASSWORD, "code": empty.state.first_code}
    TestClient(empty).post("/people", data=form)
    manager = signed_in(empty, "manager")
    manager.post("/people", data={"name": "technician", "role": "technician", "password": PASSWORD})
    technician = signed_in(empty, "technician")
    assert left(technician) == []
    manager.post("/rules", data={"technicians_add": "true"})
    assert left(technician) == ["Equipment", "Tins", "First project"]


def test_a_laboratory_that_works_is_not_asked(empty):
    manager = TestClient(empty)
    with Session(empty.state.engine) as session:
        session.add(Test(method="cup-inspection", state="issued"))
        session.commit()
        assert session.exec(select(Test)).one()
    assert left(manager) == []


def test_a_demonstration_is_not_asked(client):
    assert "Before the first sheet" not in client.get("/").text


def words(reply):
    assert reply.headers["content-type"] == "application/pdf"
    return words_of(reply.content)


def test_labels_say_what_a_sample_or_a_tin_is(client):
    samples = words(client.get("/projects/1/labels.pdf"))
    assert "TP4 B1" in samples
    assert "0.60 to 0.90 m, bag" in samples
    assert "T-01" in words(client.get("/equipment/tins/labels.pdf"))


@pytest.mark.parametrize(
    "name", ["Trial pit TP-2026-0147 behind the transformer house Sample tube no. 2026-0147-U3 (lower half)", "W" * 160]
)
def test_a_name_is_on_its_label_whole(name):
    below = ("1.00 to 1.40 m, tube", "Relocation of the eastern collector sewer, section 14b " * 3, "Clay, very silty")
    (page,) = PdfReader(BytesIO(labels([Label("http://lab.example/samples/1", name, below)]))).pages
    found: list[tuple[str, float]] = []
    page.extract_text(visitor_text=lambda text, of, at, *_: found.append((text, at[4] * of[1] + at[5] * of[3] + of[5])))
    said = "".join(text for text, _ in found).replace("\u200b", "")
    assert re.sub(r"\s", "", name) in re.sub(r"\s", "", said)
    # Within the label, 37 mm from the upper edge of the sheet, in points of 1/72 inch.
    assert all(842 - 37 * 72 / 25.4 < y < 842 for text, y in found if text.strip())


def test_what_a_scanner_types_opens_the_sample(client):
    """A wedge scanner types the code of the label, whatever the server was called when the label was printed."""
    reply = client.get("/search", params={"q": "http://lab.example:8000/samples/4 "}, follow_redirects=False)
    assert reply.headers["location"] == "/samples/4"
    assert (
        client.get("/search", params={"q": "http://lab.example/samples/4/x"}, follow_redirects=False).status_code == 200
    )
