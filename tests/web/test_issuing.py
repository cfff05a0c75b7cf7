"""From done to issued: two people, a number, a frozen sheet, and a later one that replaces it. Readings as a
workbook."""

import hashlib
import io
import re

import openpyxl
import pytest

from tests.laboratory import COMPACTION_G1, LIQUID_LIMIT_B1, LIQUID_LIMIT_B3, LIQUID_LIMIT_U2
from tests.printed import words_of
from tests.web.hands import signed_in
from vadum.exchange.readings_xlsx import readings_xlsx
from vadum.soil.registry import METHODS

SHEET = LIQUID_LIMIT_B3  # a one-point liquid limit, measured by technician 1, done


@pytest.fixture
def people(app):
    return {name: signed_in(app, name) for name in ("technician", "checker", "manager")}


def move(client, action, reason="", test=SHEET):
    return client.post(f"/api/tests/{test}/move", json={"action": action, "reason": reason})


def issued(client):
    page = client.get(f"/tests/{SHEET}/sheet").text
    return re.findall(rf'href="/tests/{SHEET}/issued/([\d-]+)\.pdf"', page)


def test_of_a_checked_sheet_no_point_and_no_handle_can_be_pressed(people):
    """Pressed, it asked why the row is left out, and what was said then was refused."""
    technician, shown = people["technician"], f"/api/tests/{COMPACTION_G1}/sheet"

    def figure(answer):
        return next(f["svg"] for f in answer.json()["figures"] if f["svg"])

    assert move(people["checker"], "check", test=COMPACTION_G1).is_success
    for answer in (technician.get(shown), technician.post(f"/api/tests/{COMPACTION_G1}/preview", json={"cells": {}})):
        assert figure(answer).count("data-values") >= 5, "what was read is still told"
        assert not re.search(r"vf-mark|vf-handle|tabindex|leave out", figure(answer))
    assert move(people["checker"], "reopen", "tins misread", test=COMPACTION_G1).is_success
    for answer in (technician.get(shown), technician.post(f"/api/tests/{COMPACTION_G1}/preview", json={"cells": {}})):
        assert figure(answer).count("vf-mark") >= 5
        assert "vf-handle" in figure(answer)


def test_a_checked_test_is_issued_with_a_number_and_its_sheet_frozen(people):
    checker = people["checker"]
    assert move(checker, "issue").status_code == 409, "only what is checked"
    assert move(checker, "check").status_code == 200
    assert move(people["technician"], "issue").status_code == 403
    # What was next to do before the check is done.
    told = checker.get(f"/api/tests/{SHEET}/sheet").json()["verdict"]["next"]
    assert told == "Checked by checker. A checker issues it, by itself or in a report."
    drawn_anew = checker.post(f"/api/tests/{SHEET}/preview", json={"cells": {}}).json()
    assert drawn_anew["verdict"]["next"] == told
    sheet = move(checker, "issue").json()
    assert sheet["state"] == "issued"
    (number,) = sheet["issued"]
    assert re.fullmatch(r"20\d\d-0001", number)
    assert sheet["verdict"]["next"].startswith(f"Issued as {number}.")
    reply = checker.get(f"/tests/{SHEET}/issued/{number}.pdf")
    assert hashlib.sha256(reply.content).hexdigest() == reply.headers["x-sha256"]
    printed = words_of(reply.content)
    assert f"Sheet {number}, issued" in printed
    assert "checked checker" in printed
    # Nothing changes it any more.
    body = {"base_revision": sheet["revision"], "save_key": "key-of-a-save", "cells": {"trials.0.blows": "24"}}
    assert people["technician"].post(f"/api/tests/{SHEET}/save", json=body).status_code == 423
    assert checker.get(f"/tests/{SHEET}/issued/{number}.pdf").content == reply.content
    assert checker.get(f"/tests/{LIQUID_LIMIT_U2}/issued/" + number + ".pdf").status_code == 404


def test_a_reissue_has_a_new_number_and_says_what_it_replaces(people):
    checker, technician = people["checker"], people["technician"]
    move(checker, "check")
    move(checker, "issue")
    assert move(technician, "reopen", "wrong tin").status_code == 403, "what was issued is the checker's to reopen"
    assert move(checker, "reopen").status_code == 409, "with a reason only"
    revision = move(checker, "reopen", "wrong tin").json()["revision"]
    body = {"base_revision": revision, "save_key": "key-of-a-save", "cells": {"trials.0.mass_tin_dry_g": "27.40"}}
    assert technician.post(f"/api/tests/{SHEET}/save", json=body).status_code == 200
    move(technician, "done")
    move(people["manager"], "check")
    first, second = move(people["manager"], "issue").json()["issued"]
    assert int(second[-4:]) == int(first[-4:]) + 1
    assert issued(checker) == [first, second]
    printed = words_of(checker.get(f"/tests/{SHEET}/issued/{second}.pdf").content)
    assert re.search(rf"{first} of \d{{4}}-\d\d-\d\d: wrong tin", printed)
    # (30.89 - 27.40) / (27.40 - 17.04) = 33.7 %, for 24 blows times (24 / 25)^0.121 = 0.995: 33.5 by one point.
    assert re.search(r"changed LL 31 % is now 3[34] %", printed), printed
    assert "wrong tin" not in words_of(checker.get(f"/tests/{SHEET}/issued/{first}.pdf").content)


def test_what_is_not_reportable_is_not_issued(people, app):
    from sqlmodel import Session

    from vadum.records.checks import freeze
    from vadum.records.standing import live
    from vadum.records.tables import Test

    with Session(app.state.engine) as session:
        test = session.get(Test, SHEET)
        test.state, test.kept = "checked", test.kept | {"trials": []}
        freeze(session, test, live(session, test), "checker")
        session.commit()
    reply = move(people["checker"], "issue")
    assert reply.status_code == 409
    assert reply.json()["message"].startswith("Not reportable, so not issued.")
    assert issued(people["checker"]) == []


def test_whoever_went_back_to_an_earlier_state_does_not_check_it(people):
    manager = people["manager"]
    revision = move(manager, "reopen", "looks odd").json()["revision"]
    body = {"base_revision": revision, "save_key": "key-of-going-back", "reason": "wrong tins"}
    assert manager.post(f"/api/tests/{SHEET}/history/1/restore", json=body).status_code == 200
    move(manager, "done")
    assert move(manager, "check").status_code == 409
    assert move(people["checker"], "check").status_code == 200


def test_a_workbook_has_real_numbers_and_units_in_its_headings(client):
    book = openpyxl.load_workbook(io.BytesIO(client.get(f"/tests/{LIQUID_LIMIT_B1}/readings.xlsx").content))
    assert book.sheetnames[0] == "results"
    trials = book["trials"]
    head = [cell.value for cell in trials[1]]
    assert "blows" in head
    assert "tin + wet [g]" in head
    assert isinstance(trials.cell(2, head.index("tin + wet [g]") + 1).value, float)
    assert trials.freeze_panes == "A2"
    results = {row[1]: row[2] for row in book["results"].iter_rows(min_row=2, values_only=True)}
    assert results["LL"] == pytest.approx(62, abs=1)
    # What was exported comes back through the import.
    sheet = client.get(f"/api/tests/{LIQUID_LIMIT_U2}/sheet").json()
    reply = client.post(
        f"/api/tests/{LIQUID_LIMIT_U2}/import/preview",
        files={"file": ("w.xlsx", client.get(f"/tests/{LIQUID_LIMIT_B1}/readings.xlsx").content)},
        data={"target": "", "mapping": "", "sheet": "trials"},
    )
    assert reply.json()["faults"] == []
    assert reply.json()["count"] == 3
    assert sheet["revision"] == reply.json()["revision"]


def test_typed_words_are_no_formulas_in_a_workbook():
    method = METHODS["water-content"]
    readings = {"determinations": [{"tin": '=HYPERLINK("x")', "mass_tin_wet_g": 30.0}]}
    book = openpyxl.load_workbook(io.BytesIO(readings_xlsx(method, readings, method.reduce_raw(readings))))
    cell = book.worksheets[1]["A2"]
    assert (cell.value, cell.data_type) == ('=HYPERLINK("x")', "s")


def test_every_method_has_its_workbook(client):
    for test in range(42, 59):
        assert openpyxl.load_workbook(io.BytesIO(client.get(f"/tests/{test}/readings.xlsx").content)).sheetnames
