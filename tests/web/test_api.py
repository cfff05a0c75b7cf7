"""The HTTP interface: saving, conflicts, bad input, documents."""

import csv
import io
import json

import pytest

from tests.laboratory import (
    CLASSIFICATION_B3,
    CUP_INSPECTION_CUP_1,
    HYDROMETER_B3,
    HYDROMETER_U1,
    LIQUID_LIMIT_B1,
    LIQUID_LIMIT_B3,
    LIQUID_LIMIT_D2,
    LIQUID_LIMIT_U2,
    PLASTIC_LIMIT_U2,
    SIEVE_G2,
    WATER_CONTENT_U5,
)
from tests.printed import words_of
from vadum.cli import app
from vadum.exchange.bench_file import BenchFileError, parse

LL, PLANNED_LL, CHECKED_LL = LIQUID_LIMIT_U2, LIQUID_LIMIT_D2, LIQUID_LIMIT_B1


def save(client, test, base, cells=None, key="k" * 8, **more):
    body = {"base_revision": base, "save_key": key, "cells": cells or {}, **more}
    return client.post(f"/api/tests/{test}/save", json=body)


def test_a_cell_is_acknowledged_and_kept(client):
    reply = save(client, PLANNED_LL, 0, {"trials.0.blows": "31", "trials.0.mass_tin_wet_g": "38,62"}).json()
    assert (reply["revision"], reply["savedAs"], reply["state"]) == (1, 1, "running")
    row = client.get(f"/api/tests/{PLANNED_LL}/sheet").json()["tables"][0]["rows"][0]
    assert (row["cells"]["blows"]["text"], row["cells"]["mass_tin_wet_g"]["text"]) == ("31", "38.62")
    (entry,) = client.get(f"/api/tests/{PLANNED_LL}/history").json()
    assert (entry["who"], entry["what"]) == ("technician 1", "trials.0.blows = 31, trials.0.mass_tin_wet_g = 38,62")


def test_a_stale_save_is_refused_with_both_versions(client):
    save(client, PLANNED_LL, 0, {"trials.0.blows": "31"}, "first-one")
    reply = save(client, PLANNED_LL, 0, {"trials.0.blows": "29"}, "second-one")
    assert reply.status_code == 409
    conflict = reply.json()["conflict"]
    assert conflict["revision"] == 1
    assert conflict["who"] == "technician 1"
    assert conflict["differences"] == [{"path": "trials.0.blows", "theirs": "31", "yours": "29"}]
    assert client.get(f"/api/tests/{PLANNED_LL}/sheet").json()["tables"][0]["rows"][0]["cells"]["blows"]["text"] == "31"


def test_a_save_sent_twice_is_kept_once(client):
    for _ in range(2):
        reply = save(client, PLANNED_LL, 0, {"trials.0.blows": "31"}, "same-key").json()
        assert (reply["savedAs"], reply["revision"]) == (1, 1)


@pytest.mark.parametrize(
    ("path", "text", "says"),
    [
        ("trials.0.mass_tin_wet_g", "abc", "not a number"),
        ("trials.0.mass_tin_wet_g", "-5", "below the least"),
        ("trials.0.mass_tin_wet_g", "12 lbf", "a force"),
        ("trials.0.mass_tin_wet_g", "nan", "not a number"),
        ("trials.0.blows", "31.5", "whole number"),
        ("trials.0.tin", "T" * 60, "longer than 40"),
        ("seasoning_min", "soon", "not a number"),
        ("not_determinable", "too lazy", "must be one of"),
    ],
)
def test_a_bad_cell_keeps_its_text_and_says_why(client, path, text, says):
    save(client, PLANNED_LL, 0, {"trials.0.closure_mm": "13"}, "good-one")
    view = save(client, PLANNED_LL, 1, {path: text}, "bad-cell").json()
    if path.startswith("trials"):
        cell = view["tables"][0]["rows"][0]["cells"][path.split(".")[2]]
    else:
        cell = next(f for f in view["fields"] if f["path"] == path)
    assert cell["text"] == text
    assert says in cell["error"]
    assert view["tables"][0]["rows"][0]["cells"]["closure_mm"]["text"] == "13"


@pytest.mark.parametrize(
    "path", ["trials.0.colour", "trials.x.blows", "trials.9999.blows", "nothing", "trials", "trials.0", ""]
)
def test_a_cell_that_does_not_exist_is_refused(client, path):
    reply = save(client, PLANNED_LL, 0, {path: "1"})
    assert reply.status_code == 422
    assert "is not a reading" in reply.json()["message"]
    assert client.get(f"/api/tests/{PLANNED_LL}/sheet").json()["revision"] == 0


def test_a_checked_test_is_read_only_until_reopened_with_a_reason(client):
    revision = client.get(f"/api/tests/{CHECKED_LL}/sheet").json()["revision"]
    assert save(client, CHECKED_LL, revision, {"trials.0.blows": "30"}).status_code == 423
    move = f"/api/tests/{CHECKED_LL}/move"
    assert "reason" in client.post(move, json={"action": "reopen"}).json()["message"]
    assert client.post(move, json={"action": "reopen", "reason": "tin 3 was misread"}).json()["state"] == "running"
    assert save(client, CHECKED_LL, revision + 1, {"trials.0.blows": "30"}).status_code == 200


def test_a_second_person_checks(client):
    move = f"/api/tests/{LIQUID_LIMIT_B3}/move"
    refused = client.post(move, json={"action": "check"})
    assert refused.status_code == 409
    assert "second person" in refused.json()["message"]
    client.cookies.set("vadum_who", "checker")
    assert client.post(move, json={"action": "check"}).json()["checkedBy"] == "checker"


def test_an_incomplete_test_is_not_done(client):
    save(client, PLANNED_LL, 0, {"trials.0.blows": "31"})
    assert "Not complete" in client.post(f"/api/tests/{PLANNED_LL}/move", json={"action": "done"}).json()["message"]


def test_the_plastic_limit_follows_the_liquid_limit(client):
    before = client.get(f"/api/tests/{PLASTIC_LIMIT_U2}/sheet").json()["verdict"]
    index = next(p for p in before["others"] if p["symbol"] == "PI")["text"]
    # Beside good trials the tick would be a contradiction, and nothing could lean on it.
    left = {f"trials.{i}.left_out": "slides" for i in range(4)}
    save(client, LL, 1, left | {"not_determinable": "slides in the cup"})
    after = client.get(f"/api/tests/{PLASTIC_LIMIT_U2}/sheet").json()["verdict"]
    assert index != "NP"
    assert next(p for p in after["others"] if p["symbol"] == "PI")["text"] == "NP"


def test_switching_the_school_changes_result_and_sheet(client):
    before = client.get(f"/api/tests/{LIQUID_LIMIT_B3}/sheet").json()
    client.post(f"/api/tests/{LIQUID_LIMIT_B3}/move", json={"action": "reopen", "reason": "other school asked"})
    after = save(client, 9, before["revision"] + 1, settings={"one_point_exponent": "0.2"}).json()
    assert after["derivation"] != before["derivation"]
    multi = save(client, 9, after["revision"], settings={"school": "multipoint"}, key="other-school").json()
    assert multi["verdict"]["school"].startswith("multipoint")
    text = words_of(client.get(f"/tests/{LIQUID_LIMIT_B3}/sheet.pdf").content)
    assert "multipoint" in text
    assert "Not reportable" in text


def test_a_bad_setting_is_refused_by_name(client):
    reply = save(client, LL, 1, settings={"off_line_percent": "500"})
    assert reply.status_code == 422
    assert reply.json()["faults"][0]["place"] == "settings.off_line_percent"


def test_pdf_csv_and_bench_file_carry_the_same_numbers(client):
    verdict = client.get(f"/api/tests/{CHECKED_LL}/sheet").json()["verdict"]
    limit = verdict["headline"]["text"]
    text = words_of(client.get(f"/tests/{CHECKED_LL}/sheet.pdf?derivation=true").content)
    assert f"LL, liquid limit {limit} %" in text
    assert "checker" in text
    assert "multipoint" in text
    assert "Derivation" in text
    rows = list(csv.reader(io.StringIO(client.get(f"/tests/{CHECKED_LL}/readings.csv").content.decode("utf-8-sig"))))
    assert ["liquid limit", "LL", limit] == next(r for r in rows if r[:1] == ["liquid limit"])[:3]
    bench = client.get(f"/tests/{CHECKED_LL}/bench.json").json()
    again = client.post("/api/reduce", json=bench).json()
    assert again["parameters"][0]["text"] == limit
    svg = client.get(f"/tests/{CHECKED_LL}/figure/flow-curve.svg?theme=print").text
    assert svg.startswith("<svg")
    assert "var(--" not in svg


@pytest.mark.parametrize(
    "path",
    [
        "/",
        "/projects/1",
        "/samples/2",
        "/equipment",
        f"/tests/{LIQUID_LIMIT_U2}",
        f"/tests/{LIQUID_LIMIT_U2}/run",
        f"/tests/{WATER_CONTENT_U5}/run",
        f"/tests/{CUP_INSPECTION_CUP_1}",
        f"/tests/{LIQUID_LIMIT_U2}/sheet",
        "/samples/3",
        f"/tests/{HYDROMETER_B3}",
        f"/tests/{CLASSIFICATION_B3}",
        f"/tests/{HYDROMETER_U1}/run",
        f"/tests/{SIEVE_G2}/import",
        "/api/docs",
    ],
)
def test_pages_answer_with_a_policy_that_allows_no_inline_script(client, path):
    reply = client.get(path)
    assert reply.status_code == 200
    assert "unsafe" not in reply.headers["content-security-policy"]
    assert " style=" not in reply.text


@pytest.mark.parametrize(
    "path",
    [
        "/projects/99",
        "/samples/99",
        "/tests/99",
        "/tests/99999999999999999999999",
        f"/tests/{LIQUID_LIMIT_U2}/sheet/9.png",
        f"/tests/{LIQUID_LIMIT_U2}/figure/none.svg",
        "/nowhere",
    ],
)
def test_what_is_not_there_is_said_plainly(client, path):
    assert client.get(path).status_code == 404


def test_forms_keep_what_was_typed_beside_the_complaint(client):
    reply = client.post("/locations/1/samples", data={"name": "B9", "top_m": "3,9", "base_m": "deep"})
    assert reply.status_code == 422
    assert "not a number" in reply.text
    assert 'value="3,9"' in reply.text
    reply = client.post("/locations/1/samples", data={"name": "B9", "top_m": "3,9", "base_m": "9"})
    assert "TP4 is 4.2 m deep" in reply.text
    assert client.post("/locations/1/samples", data={"name": "B9", "top_m": "3,9", "base_m": "4.1"}).status_code == 200
    assert (
        "is in the register already"
        in client.post("/equipment", data={"name": "T-01", "kind": "tin", "tare_g": "17"}).text
    )


GOOD_FILE = {
    "format": "vadum-bench/1",
    "method": "water-content",
    "readings": {"determinations": [{"mass_tin_g": 20, "mass_tin_wet_g": 70, "mass_tin_dry_g": 60}]},
}


@pytest.mark.parametrize(
    ("change", "place", "says"),
    [
        ({"format": "vadum-bench/2"}, "format", "this program reads vadum-bench/1"),
        ({"method": "sieve-by-eye"}, "method", "known are"),
        ({"extra": 1}, "extra", "not a part"),
        (
            {"readings": {"determinations": [{"mass_tin_g": "abc"}]}},
            "readings.determinations.0.mass_tin_g",
            "not a number",
        ),
        ({"readings": {"determinations": [{"mass_tin_g": -1}]}}, "readings.determinations.0.mass_tin_g", "below"),
        (
            {"readings": {"determinations": [{"mass_tin_g": float("nan")}]}},
            "readings.determinations.0.mass_tin_g",
            "finite",
        ),
        ({"readings": {"determinations": [{"mass": 1}]}}, "readings.determinations.0.mass", "check the spelling"),
        ({"readings": {"determinations": {}}}, "readings.determinations", "list of rows"),
        ({"readings": []}, "readings", "named fields"),
        ({"settings": {"drying": "sun"}}, "settings.drying", "must be one of"),
        ({"context": {"tins": {"T": "x"}}}, "context.tins.T", "not a number"),
    ],
)
def test_a_bad_bench_file_names_the_place(client, change, place, says):
    reply = client.post("/api/reduce", content=json.dumps(GOOD_FILE | change))
    assert reply.status_code == 422
    (fault,) = reply.json()["faults"]
    assert fault["place"] == place
    assert says in fault["message"]


@pytest.mark.parametrize(
    "raw", [b"", b"{", b"\xff\xfe", b"[" * 100_000, b"null", b"[1, 2]", b'{"format": 1' + b"0" * 5000 + b"}"]
)
def test_junk_is_refused_not_crashed_on(client, raw):
    assert client.post("/api/reduce", content=raw).status_code == 422
    reply = client.post(f"/api/tests/{LIQUID_LIMIT_U2}/save", content=raw, headers={"content-type": "application/json"})
    assert reply.status_code in (400, 422)


def test_ten_megabytes_are_refused_by_size(client):
    reply = client.post("/api/reduce", content=b"x" * 10_000_000)
    assert reply.status_code == 413
    with pytest.raises(BenchFileError, match="at most 8 MB"):
        parse(b"x" * 10_000_000)


def test_command_line_reduces_and_refuses(tmp_path, capsys):
    from typer.testing import CliRunner

    file = tmp_path / "test.json"
    file.write_text(json.dumps(GOOD_FILE))
    good = CliRunner().invoke(app, ["reduce", str(file)])
    assert json.loads(good.stdout)["parameters"][0]["text"] == "25.0"
    file.write_text(json.dumps(GOOD_FILE | {"format": "x"}))
    bad = CliRunner().invoke(app, ["reduce", str(file)])
    assert bad.exit_code == 2
    assert "format" in bad.output
    listed = json.loads(CliRunner().invoke(app, ["methods", "--json"]).stdout)
    assert {"code", "readings", "settings"} <= listed[0].keys()
    simulated = CliRunner().invoke(app, ["simulate", "liquid-limit", "--mistake", "too-dry-trial"])
    trials = json.loads(simulated.stdout)["readings"]["trials"]
    assert sum(trial["blows"] > 35 for trial in trials) == 1


def test_method_pages_are_the_code(tmp_path):
    from pathlib import Path

    from vadum.report.method_page import write_pages

    for page in write_pages(tmp_path):
        assert (Path("docs/methods") / page.name).read_text() == page.read_text(), "run `make docs`"


@pytest.mark.parametrize(
    ("asked", "place", "words"),
    [
        ({"json": {"at": "yesterday"}}, "body.at", "must be a time such as 2026-05-04T08:30:00Z"),
        ({"json": {"at": "2026-05-04T08:30:00"}}, "body.at", "must be a time with its zone"),
        ({"content": b'{"at": '}, "body", "is no JSON"),
        ({"json": [1]}, "body", "must be a group of named fields"),
    ],
)
def test_what_a_request_gets_wrong_is_said_in_plain_words(client, asked, place, words):
    reply = client.post("/api/tests/1/operations/any", headers={"Content-Type": "application/json"}, **asked)
    assert reply.status_code == 422
    [fault] = reply.json()["faults"]
    assert fault["place"].startswith(place)
    assert words in fault["message"]
