"""Files of a frame that writes one for each specimen, through the interface that the page uses."""

import json

import pytest
from fastapi.testclient import TestClient

from vadum.web.app import create_app

ROWS = [(i / 10, 5 * i if i < 40 else 200 - 2 * (i - 40)) for i in range(80)]


@pytest.fixture
def lab(database):
    with TestClient(create_app(database)) as client:
        yield client


@pytest.fixture
def box(lab):
    """A shear box that is planned and empty."""
    reply = lab.post("/samples/2/tests", data={"method": "direct-shear", "anyway": "yes"}, follow_redirects=False)
    return int(reply.headers["location"].rsplit("/", 1)[1])


def send(lab, test, path, *, times=1.0, **form):
    lines = [f"{h};{f * times:.1f}" for h, f in ROWS]
    data = "\n".join(["travel [mm];force [N]", *lines])
    if path == "import":
        revision = lab.get(f"/api/tests/{test}/sheet").json()["revision"]
        form |= {"base_revision": str(revision), "save_key": f"key-{revision:08d}"}
    form = {key: value if isinstance(value, str) else json.dumps(value) for key, value in form.items()}
    return lab.post(f"/api/tests/{test}/{path}", files={"file": (f"s{times}.csv", data)}, data=form)


def record(lab, test):
    return lab.get(f"/tests/{test}/bench.json").json()["readings"]["record"]


def test_three_files_make_three_specimens(lab, box):
    for k, mode in ((1, "replace"), (2, "append"), (3, "append")):
        shown = send(lab, box, "import/preview", times=k, mode=mode).json()
        assert shown["holds"] == 80 * (k - 1)
        assert {"key": "specimen", "label": "no.", "value": str(k)} in shown["constants"]
        assert send(lab, box, "import", times=k, mode=mode).status_code == 200
    rows = record(lab, box)
    assert [row["specimen"] for row in rows] == [1] * 80 + [2] * 80 + [3] * 80
    assert rows[100]["force_n"] == 2 * rows[20]["force_n"]
    # Each file lies with the test as it came.
    names = [a["name"] for a in lab.get(f"/api/tests/{box}/attachments").json()]
    assert names == ["s1.csv", "s2.csv", "s3.csv"]


def test_another_number_may_be_said(lab, box):
    send(lab, box, "import", constants={"specimen": "4"})
    assert {row["specimen"] for row in record(lab, box)} == {4}


def test_replacing_is_what_a_script_gets_that_says_nothing(lab, box):
    send(lab, box, "import", times=1)
    send(lab, box, "import", times=2)
    rows = [row for row in record(lab, box) if row]
    assert len(rows) == 80
    assert {row["specimen"] for row in rows} == {1}


@pytest.mark.parametrize("form", [{"constants": "{nonsense"}, {"constants": "[1, 2]"}, {"mode": "beside"}])
def test_what_cannot_be_read_is_refused_and_nothing_kept(lab, box, form):
    assert send(lab, box, "import", **form).status_code == 422
    assert lab.get(f"/api/tests/{box}/attachments").json() == []


def test_a_number_that_cannot_be_is_a_fault_at_its_place(lab, box):
    shown = send(lab, box, "import/preview", constants={"specimen": "many"}).json()
    assert [fault["column"] for fault in shown["faults"]] == ["“no.”"]
    assert send(lab, box, "import", constants={"specimen": "many"}).status_code == 422


def test_a_look_at_a_file_counts_what_is_not_read_in_the_test_already(lab, box):
    revision = lab.get(f"/api/tests/{box}/sheet").json()["revision"]
    typed = {"base_revision": revision, "cells": {"side_mm": "6O"}, "save_key": "a-letter-for-a-figure"}
    assert lab.post(f"/api/tests/{box}/save", json=typed).status_code == 200
    shown = send(lab, box, "import/preview").json()
    assert "“6O” has a letter among its figures" in shown["findings"][0]["message"]
