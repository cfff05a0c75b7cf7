"""The transfer format: what goes out passes the format's own checker; what comes in is told first, whole or not at
all."""

import csv
import io
import re
from contextlib import suppress
from dataclasses import replace

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st
from python_ags4 import AGS4
from sqlmodel import Session, func, select

from tests.laboratory import LIQUID_LIMIT_B1
from vadum.exchange.ags4.fillings import filling, left_out
from vadum.exchange.ags4.letters import told_apart
from vadum.exchange.ags4.read import TransferError, read_transfer
from vadum.exchange.ags4.sent import Layer, Place, Sent, Taken, Transfer, Way
from vadum.exchange.ags4.write import transfer_file
from vadum.records.corrections import corrections_of
from vadum.records.custody import custody_of
from vadum.records.database import open_database
from vadum.records.tables import Location, Project, Sample, Stratum, Test, now
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import METHODS
from vadum.web.app import create_app


@pytest.fixture(scope="module")
def sent(demo_database, tmp_path_factory):
    """The first demonstration project as a file."""
    from vadum.records.backup import backup

    path = tmp_path_factory.mktemp("sent") / "lab.sqlite"
    backup(demo_database, path)
    with TestClient(create_app(path)) as client:
        return client.get("/projects/1/results.ags").content


def errors(data):
    """Return what the format's own checker says, FYI and warnings apart."""
    found = AGS4.check_file(io.StringIO(data.decode()))
    return {rule: said for rule, said in found.items() if "Format Rule" in rule}


def groups(data):
    """Return the data rows of every group, read by a plain CSV reader rather than by what wrote them."""
    found, group, head = {}, "", []
    for row in csv.reader(io.StringIO(data.decode())):
        if row[:1] == ["GROUP"]:
            group = row[1]
        elif row[:1] == ["HEADING"]:
            head = row[1:]
        elif row[:1] == ["DATA"]:
            found.setdefault(group, []).append(dict(zip(head, row[1:], strict=True)))
    return found


def test_the_formats_checker_finds_nothing_in_the_demonstration(sent):
    assert errors(sent) == {}


def test_every_method_that_has_a_group_is_in_it(sent):
    filled = groups(sent).keys()
    assert filled >= {
        "LOCA",
        "GEOL",
        "SAMP",
        "LNMC",
        "LLPL",
        "LPDN",
        "GRAG",
        "GRAT",
        "LDEN",
        "IDEN",
        "CMPG",
        "CMPT",
        "CBRG",
        "CBRT",
        "ICBR",
        "PLTG",
        "PLTT",
        "IVAN",
        "LUCT",
        "TREG",
        "TRET",
        "SHBG",
        "SHBT",
        "LSTG",
        "LSTT",
        "IPRG",
        "DCPG",
        "DCPT",
    }
    # What has no group of its own in the edition.
    assert {code for code in METHODS if not filling(code)} == {
        "cup-inspection",
        "classification",
        "retention",
        "drop-plate",
        "density-gauge",
    }
    assert left_out("retention") == "the format has no group for water retention"


def test_the_limits_of_a_sample_stand_in_one_row(sent):
    row = next(r for r in groups(sent)["LLPL"] if r["SAMP_REF"] == "B1")
    assert (row["LLPL_LL"], row["LLPL_PL"], row["LLPL_PI"]) == ("62", "24", "38")
    plastic = next(r for r in groups(sent)["LLPL"] if r["SAMP_REF"] == "B4")
    assert (plastic["LLPL_LL"], plastic["LLPL_PL"]) == ("", "NP")


def test_the_fractions_are_those_of_the_groups_own_sizes_and_add_up(sent):
    row = next(r for r in groups(sent)["GRAG"] if r["GRAG_CLAY"])
    parts = [float(row[f"GRAG_{name}"]) for name in ("VCRE", "GRAV", "SAND", "SILT", "CLAY")]
    assert sum(parts) == pytest.approx(100, abs=0.2)
    points = [r for r in groups(sent)["GRAT"] if r["SPEC_REF"] == row["SPEC_REF"]]
    assert {p["GRAT_TYPE"] for p in points} == {"WS", "HY"}
    passing_2_mm = next(float(p["GRAT_PERP"]) for p in points if float(p["GRAT_SIZE"]) == 2.0)
    assert 100 - parts[0] - parts[1] == pytest.approx(passing_2_mm, abs=0.6)


def test_the_laboratory_goes_by_its_own_name(sent):
    assert {row["PROJ_CONT"] for row in groups(sent)["PROJ"]} == {"Sedgemill Soils Laboratory"}
    assert {row["TRAN_PROD"] for row in groups(sent)["TRAN"]} == {"Sedgemill Soils Laboratory"}


def test_what_is_reported_is_what_is_sent(sent, client):
    rows = groups(sent)
    shown = client.get("/projects/1/results.csv").text
    lines = {(r["test"], r["symbol"]): r for r in csv.DictReader(io.StringIO(shown.lstrip("\ufeff")))}
    plate = rows["PLTG"][0]
    assert float(plate["PLTG_EV2"]) == float(lines[plate["PLTG_TESN"], "Ev2"]["reported"])
    bearing = rows["ICBR"][0]
    assert float(bearing["ICBR_ICBR"]) == float(lines[bearing["ICBR_TESN"], "CBR"]["reported"])


def test_what_the_format_has_a_heading_for_is_sent(sent, client):
    """Held against the bench files by a reader of its own: mould, oversize, surcharge, swell, sizes, states."""
    rows = groups(sent)

    def bench(row, name="SPEC_REF"):
        number = re.search(r"\d+", row[name])[0]
        return client.get(f"/tests/{number}/bench.json").json()

    for row in rows["CBRT"]:
        read = bench(row)["readings"]
        dials = [one["dial_mm"] for one in read.get("swell", []) if one.get("dial_mm") is not None]
        if len(dials) > 1:
            assert float(row["CBRT_SWEL"]) == pytest.approx(
                dials[-1] - dials[0], abs=0.051
            )  # the heading has one decimal
        # 4.5 kg on the area of the mould, volume over height: 4.5 x 9.80665 x 127 / 2305 = 2.43 kPa
        area_m2 = read["volume_mould_cm3"] / read["height_specimen_mm"] / 1000
        assert float(row["CBRT_SURC"]) == pytest.approx(
            read["surcharge_kg"] * 9.80665 / area_m2 / 1000, abs=0.51
        )  # whole kPa
    for row in rows["CMPG"]:
        scheme = bench(row, "CMPG_TESN")["settings"].get("scheme", "light-1l")
        assert row["CMPG_MOLD"] == ("1 LITRE" if scheme.endswith("1l") else "CBR")
        assert row["CMPG_TYPE"] == ("2.5KG" if scheme.startswith("light") else "4.5KG")
    for row in rows["TRET"]:
        assert 30 < float(row["TRET_SDIA"]) < float(row["TRET_LEN"])
        assert float(row["TRET_DEVF"]) == pytest.approx(2 * float(row["TRET_CU"]), abs=1)
    for row in rows["SHBT"]:
        assert float(row["SHBT_DISP"]) > 0
        assert float(row["SHBT_DDEN"]) < float(row["SHBT_BDEN"])


def test_only_an_oven_has_a_temperature():
    method = METHODS["water-content"]
    for drying, warm in (("oven", 110.0), ("microwave", None)):
        chosen = method.Settings(drying=drying)
        test = Sent(1, "water-content", "", "checked", now().date(), some().places[0], None, None, chosen, Reduction())
        assert dict(filling("water-content")(test))["LNMC"]["LNMC_TEMP"] == warm


def filled(code, readings, **chosen):
    """Return what a filling makes of plain readings: the group and its values, row by row."""
    method, place = METHODS[code], some().places[0]
    settings = method.Settings(**chosen)
    read = method.Readings.model_validate(readings)
    reduction = method.reduce(read, settings, method.Context())
    return filling(code)(Sent(1, code, "", "checked", now().date(), place, None, read, settings, reduction))


def stage(kpa, mean, **more):
    return {"pressure_kpa": kpa, "elapsed_min": 1.0, "gauge_a_mm": mean, "gauge_c_mm": mean + 0.1} | more


def test_settlements_below_a_plate_go_out_by_stage_from_where_the_gauges_began():
    """What is left out does not go, a pressure that creeps is one stage, and a force goes as what it loads."""
    rows = [
        stage(0, 2.0),
        stage(100, 3.0),
        stage(101, 3.1, elapsed_min=4.0),
        stage(2000, 9.0, left_out="slip"),
        stage(200, 4.0),
    ]
    wanted = [("1", 1.0, 1.0), ("1", 4.0, 1.1), ("2", 1.0, 2.0)]
    told = [row for group, row in filled("plate-incremental", {"rows": rows}) if group == "PLTT"]
    assert [(row["PLTT_STG"], row["PLTT_TIME"], round(row["PLTT_SET1"], 6)) for row in told] == wanted
    assert [row["PLTT_SET2"] for row in told] == [None] * 3
    area = METHODS["plate-incremental"].Settings().area_m2
    assert [row["PLTT_LOAD"] for row in told] == pytest.approx([100 * area, 100 * area, 200 * area])
    forces = [
        {key: value for key, value in row.items() if key != "pressure_kpa"} | {"force_kn": row["pressure_kpa"] * area}
        for row in rows
    ]
    loaded = [row for group, row in filled("plate-incremental", {"rows": forces}, load_as="force") if group == "PLTT"]
    assert [row["PLTT_LOAD"] for row in loaded] == pytest.approx([100 * area, 100 * area, 200 * area])


def test_stages_of_a_plate_go_out_as_pressure_and_settlement_and_none_that_is_left_out():
    """Read at the end of a beam that shows twice the settlement, by a gauge that counts down from 20, under a force."""
    stages = [
        {"planned_kpa": 80, "force_kn": 5.0, "gauge_mm": 19.2},
        {"planned_kpa": 160, "force_kn": 11.0, "gauge_mm": 2.0, "left_out": "bumped"},
        {"planned_kpa": 240, "force_kn": 17.0, "gauge_mm": 17.6},
    ]
    readings = {"stages": stages, "lever_plate_mm": 1000, "lever_gauge_mm": 2000, "gauge_start_mm": 20}
    chosen = {"load_as": "force", "gauge": "beam", "gauge_runs": "down"}
    told = [row for group, row in filled("plate-static", readings, **chosen) if group == "PLTT"]
    assert [row["PLTT_STG"] for row in told] == ["1", "3"]
    assert [row["PLTT_LOAD"] for row in told] == pytest.approx([5.0, 17.0], rel=1e-4)
    assert [row["PLTT_SET1"] for row in told] == pytest.approx([0.4, 1.2])


@pytest.mark.parametrize(
    ("code", "table", "group"),
    [
        ("compaction", "points", "CMPT"),
        ("direct-shear", "specimens", "SHBT"),
        ("dynamic-cone", "blows", "DCPT"),
        ("lime-demand", "bottles", "LSTT"),
        ("sieve", "sieves", "GRAT"),
        ("triaxial", "specimens", "TRET"),
        ("vane", "profile", "IVAN"),
    ],
)
def test_nothing_that_is_left_out_goes_out(code, table, group):
    method, rng = METHODS[code], np.random.default_rng(1)
    readings = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    rows = readings[table]
    out = [row | {"left_out": "slip"} if i == len(rows) // 2 else row for i, row in enumerate(rows)]
    sent_all, sent_some = (
        [row for to, row in filled(code, readings | {table: told}) if to == group] for told in (rows, out)
    )
    assert len(sent_some) == len(sent_all) - 1


def test_a_samples_way_is_sent_with_it_and_comes_in_again(client, database):
    way = Way("driller", "by hand", "bag torn " * 20, "Taken 2026-11-02")
    place = replace(some().places[0], samples=(Taken("B1", "bag", 0.5, 0.8, "", way),))
    data = transfer_file(some(name="Low Weir", places=(place,)))
    assert errors(data) == {}
    (row,) = groups(data)["SAMP"]
    assert (row["SAMP_WHO"], row["SAMP_TECH"], row["SAMP_REM"]) == ("driller", "by hand", "Taken 2026-11-02")
    assert send(client, data, seen_sha256=seen(send(client, data))).status_code == 303
    with Session(open_database(database)) as session:
        sample = session.exec(select(Sample).order_by(Sample.id.desc())).first()
        custody = custody_of(sample)
    assert (custody.taken_by, custody.taken_how) == ("driller", "by hand")
    assert custody.condition.startswith("bag torn bag torn")


def some(**more):
    plain = {
        "number": 7,
        "name": "Low Weir",
        "client": "the drainage board",
        "note": "",
        "by": "the laboratory",
        "made": now(),
        "places": (
            Place(
                "TP1",
                "test pit",
                3.0,
                12.25,
                latitude_deg=-0.5,
                longitude_deg=-1.2345678,
                layers=(Layer(0, 1.5, 'silt, "quick"\nwhen shaken'), Layer(1.5, 3, "clay − stiff")),
                samples=(Taken("B1", "bag", 0.5, 0.8, "grey"), Taken("U2", "tube", 1.6, 2.05, "")),
            ),
        ),
    }
    return Transfer(**(plain | more))


def test_a_test_that_may_not_be_reported_is_not_sent():
    method, place = METHODS["water-content"], some().places[0]
    row = {"mass_tin_g": 20.0, "mass_tin_wet_g": 92.76, "mass_tin_dry_g": 73.88, "drying_h": 17}
    readings = {
        "determinations": [row, row | {"mass_tin_wet_g": 92.43, "mass_tin_dry_g": 73.61}],
        "largest_particle_mm": 2,
    }
    test = Sent(
        3,
        "water-content",
        "ISO 17892-1",
        "reduced",
        now().date(),
        place,
        place.samples[0],
        method.Readings.model_validate(readings),
        method.Settings(),
        method.reduce_raw(readings),
    )
    [row] = groups(transfer_file(some(tests=(test,))))["LNMC"]
    assert (row["LNMC_MC"], row["LNMC_METH"], row["SPEC_REF"]) == (test.text("water_content"), "ISO 17892-1", "3")
    held = replace(test, reduction=test.reduction.model_copy(update={"reportable": False}))
    assert "LNMC" not in groups(transfer_file(some(tests=(held,))))


def test_what_goes_out_comes_in_again():
    data = transfer_file(some())
    assert errors(data) == {}
    received = read_transfer(data)
    assert (received.name, received.client, received.faults, received.notes) == (
        "Low Weir",
        "the drainage board",
        [],
        [],
    )
    [place] = received.places
    assert (place.name, place.kind, place.depth_m, place.level_m) == ("TP1", "test pit", 3.0, 12.25)
    assert place.latitude_deg == pytest.approx(-0.5, abs=1e-6)
    assert place.longitude_deg == pytest.approx(-1.2345678, abs=1e-6)
    assert place.layers == (Layer(0, 1.5, "silt, 'quick' when shaken"), Layer(1.5, 3, "clay - stiff"))
    assert place.samples == some().places[0].samples


# Six at a time, since one file takes the checker as long as six places in it.
TYPED = st.tuples(st.text(min_size=1, max_size=20).filter(str.strip), st.text(max_size=40))


@settings(max_examples=6)
@given(typed=st.lists(TYPED, min_size=1, max_size=6))
def test_whatever_is_typed_the_checker_finds_nothing(typed):
    names, words = zip(*typed, strict=True)
    layers = [(Layer(0, 1, said),) for said in words]
    places = tuple(
        replace(some().places[0], name=name, layers=of) for name, of in zip(told_apart(names), layers, strict=True)
    )
    assert errors(transfer_file(some(places=places, note=words[0]))) == {}


@pytest.mark.parametrize(("one", "other"), [("ж1", "щ1"), ('weir "a"', "weir 'a'")], ids=["letters", "marks"])
def test_two_holes_that_would_be_written_alike_are_told_apart(client, one, other):
    project = client.post("/projects", data={"name": "Far bank"}).url.path
    for name in (one, other):
        client.post(f"{project}/locations", data={"name": name, "kind": "test pit", "depth_m": 2})
    for hole in set(re.findall(r'href="(/locations/\d+)"', client.get(project).text)):
        client.post(f"{hole}/samples", data={"name": "Z", "kind": "bag", "top_m": 1, "base_m": 1.5})
    data = client.get(f"{project}/results.ags").content
    assert errors(data) == {}
    assert len({row["SAMP_ID"] for row in groups(data)["SAMP"]}) == 2


def test_two_samples_whose_holes_and_names_run_together_are_told_apart():
    place = some().places[0]
    taken = place.samples[0]
    places = [
        replace(place, name=name, samples=(replace(taken, name=sample),))
        for name, sample in (("A", "1-2"), ("A-1", "2"))
    ]
    data = transfer_file(some(places=tuple(places)))
    assert errors(data) == {}
    assert [row["SAMP_ID"] for row in groups(data)["SAMP"]] == ["A-1-2", "A-1-2 (2)"]


def test_the_file_says_where_letters_are_lost():
    [row] = groups(transfer_file(some(name="Жито")))["TRAN"]
    assert row["TRAN_REM"] == "A letter that this format does not hold is written as a question mark."
    [row] = groups(transfer_file(some(name="Łąka, is it?")))["TRAN"]
    assert "TRAN_REM" not in row


OTHER = "\r\n".join(
    [
        '"GROUP","PROJ"',
        '"HEADING","PROJ_ID","PROJ_NAME"',
        '"UNIT","",""',
        '"TYPE","ID","X"',
        '"DATA","9","Reed Bank"',
        "",
        '"GROUP","XXXX"',
        '"HEADING","XXXX_ID"',
        '"UNIT",""',
        '"TYPE","X"',
        '"DATA","whatever"',
        "",
        '"GROUP","LOCA"',
        '"HEADING","LOCA_ID","LOCA_TYPE","LOCA_FDEP","LOCA_NATE","LOCA_NATN","LOCA_GL"',
        '"UNIT","","","m","m","m","ft"',
        '"TYPE","ID","PA","2DP","2DP","2DP","2DP"',
        '"DATA","BH7","CP+RC","6.00","500100.25","200300.50","100"',
        "",
        '"GROUP","SAMP"',
        '"HEADING","LOCA_ID","SAMP_TOP","SAMP_REF","SAMP_TYPE","SAMP_ID","SAMP_BASE"',
        '"UNIT","","m","","","","m"',
        '"TYPE","ID","2DP","X","PA","ID","2DP"',
        '"DATA","BH7","6.10","3","U","X1","6.55"',
        "",
    ]
)


def test_anothers_file_is_read_with_its_units_and_what_was_done_is_said():
    received = read_transfer(OTHER.encode())
    assert received.faults == []
    [place] = received.places
    assert place.kind == "borehole"
    assert place.level_m == pytest.approx(30.48), "100 ft"
    assert (place.easting_m, place.northing_m) == (500100.25, 200300.5)
    assert place.depth_m == 6.55
    assert place.samples == (Taken("3", "tube", 6.1, 6.55, ""),)
    assert any("BH7: final depth 6 m; 6.55 m is taken" in note for note in received.notes)
    assert any("checker finds" in note for note in received.notes), "the group XXXX is in no dictionary"


@pytest.mark.parametrize(
    ("change", "line", "words"),
    [
        (('"6.10"', '"six"'), 23, "SAMP_TOP"),
        (('"6.55"', '"6.00"'), 23, "SAMP_BASE"),
        (('"DATA","BH7","6.10"', '"DATA","BH8","6.10"'), 23, "BH8 is not among"),
        (('"6.10"', '""'), 23, "SAMP_TOP"),
        (('"6.00"', '"9000"'), 17, "LOCA_FDEP"),
        (('"500100.25"', '"east"'), 17, "LOCA_NATE"),
    ],
)
def test_what_is_wrong_is_said_with_its_line(change, line, words):
    received = read_transfer(OTHER.replace(*change).encode())
    assert received.places == [] or received.faults
    assert [f.line for f in received.faults] == [line]
    assert words in f"{received.faults[0].heading} {received.faults[0].message}"


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "no line begins with"),
        (b"PK\x03\x04rest", "ZIP file or a workbook"),
        ("GROUP;LOCA".encode("utf-16"), "zero bytes"),
        (b'"**PROJ"\r\n"*PROJ_ID"\r\n', "older edition"),
        (OTHER.replace('"GROUP","LOCA"', '"GROUP","LOCX"').encode(), "no group LOCA"),
        (OTHER.replace('"6.00","500100.25"', '"500100.25"').encode(), "Line 17"),
        ((OTHER + OTHER).encode(), "duplicated"),
        (OTHER.replace('"HEADING","LOCA_ID"', '"HEADNG","LOCA_ID"').encode(), "before its heading"),
    ],
)
def test_a_file_that_cannot_be_taken_apart_is_refused_in_plain_words(data, words):
    with pytest.raises(TransferError, match=words):
        read_transfer(data)


@settings(max_examples=150)
@given(cut=st.floats(0, 1), at=st.floats(0, 1), junk=st.binary(max_size=6))
def test_spoilt_files_end_in_faults_or_a_plain_message(cut, at, junk):
    data = OTHER.encode()
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("vadum.exchange.ags4.read.MOST_CHECKED", 0)  # ours is tried here, not the library's checker
        for spoilt in (data[: int(cut * len(data))], data[: (k := int(at * len(data)))] + junk + data[k:]):
            with suppress(TransferError):
                read_transfer(spoilt)


def count(path):
    with Session(open_database(path)) as session:
        return [session.exec(select(func.count()).select_from(t)).one() for t in (Project, Location, Stratum, Sample)]


def send(client, data, **more):
    return client.post("/transfer", files={"file": ("x.ags", data)}, data=more, follow_redirects=False)


def seen(reply):
    return re.search(r'name="seen_sha256"\s+value="([^"]+)"', reply.text).group(1)


def test_a_new_project_is_seen_first_and_then_taken(client, database, sent):
    before = count(database)
    reply = send(client, sent)
    assert reply.status_code == 200
    assert "is here already" in reply.text
    assert count(database) == before, "looking changes nothing"
    reply = send(client, sent, seen_sha256=seen(reply))
    assert reply.status_code == 303
    assert count(database) == [before[0] + 1, before[1] + 9, before[2] + 21, before[3] + 8]


def test_into_a_project_that_is_here_nothing_is_overwritten(client, database):
    data = OTHER.replace('"BH7"', '"TP4"').replace('"3","U","X1"', '"B1","U","X1"').encode()
    before = count(database)
    reply = send(client, data, into=1)
    assert "goes into Harrow Mere bypass" in reply.text
    assert "stays as it is here" in reply.text
    assert "depth: 4.2 here, 6.55 in the file" in reply.text
    assert send(client, data, into=1, seen_sha256=seen(reply)).status_code == 303
    assert count(database) == before
    with Session(open_database(database)) as session:
        place = session.exec(select(Location).where(Location.name == "TP4")).first()
        assert (place.depth_m, place.level_m) == (4.2, 45.2)
        assert place.easting_m == 500100.25, "a blank is filled"


def test_faults_and_another_file_than_the_one_seen_bring_nothing(client, database):
    before = count(database)
    reply = send(client, OTHER.replace('"6.10"', '"six"').encode())
    assert reply.status_code == 422
    assert "<b>line 23</b>" in reply.text
    token = seen(send(client, OTHER.encode()))
    assert send(client, OTHER.replace("Reed", "Rush").encode(), seen_sha256=token).status_code == 200
    assert send(client, OTHER.encode(), into=1, seen_sha256=token).status_code == 200, "seen for a new project"
    assert send(client, b"nothing").status_code == 422
    assert send(client, OTHER.encode(), into=99).status_code == 404
    assert count(database) == before


def test_fifty_megabytes_are_refused_before_they_are_read(client):
    assert send(client, b"x" * 50_000_000).status_code == 413


def test_layers_that_are_filled_in_are_said_before(client, database):
    """A location that is the same but for its layers was called the same, and written all the same."""
    client.post("/projects/1/locations", data={"name": "TP1", "kind": "test pit", "depth_m": "3"})
    page = send(client, transfer_file(some()), into=1).text
    assert "layers: 0–1.5 m silt" in page
    assert "Nothing would change" not in page


def test_what_differs_is_taken_line_by_line_where_it_is_chosen(client, database):
    client.post("/projects/1/locations", data={"name": "TP1", "kind": "test pit", "depth_m": "4", "level_m": "11"})
    with Session(open_database(database)) as session:
        place = session.exec(select(Location).where(Location.name == "TP1")).one().id
    client.post(f"/locations/{place}/layers", data={"top": ["0"], "base": ["2"], "description": ["fill"]})
    data = transfer_file(some())
    page = send(client, data, into=1)
    keys = re.findall(r'name="chosen"\s+value="([^"]+)"', page.text)
    assert set(keys) == {"TP1|level_m", "TP1|depth_m", "TP1|layers"}
    taken = {"chosen": ["TP1|level_m", "TP1|layers"], "seen_sha256": seen(page)}
    assert send(client, data, into=1, **taken).status_code == 303
    with Session(open_database(database)) as session:
        kept = session.get(Location, place)
        assert (kept.level_m, kept.depth_m) == (12.25, 4.0)
        assert [one.base_m for one in kept.strata] == [1.5, 3.0]
        one = corrections_of(session, kept)[0]
        assert one.changed["level_m"] == [11.0, 12.25]
        assert one.changed["layers"][0] == "0–2 m fill"


def test_a_hole_in_other_capitals_is_the_one_that_stands(client, database):
    """A page takes no tp1 beside a TP1; a file did, and half of the samples lay in either."""
    client.post("/projects/1/locations", data={"name": "tp1", "kind": "test pit", "depth_m": "3"})
    with Session(open_database(database)) as session:
        place = session.exec(select(Location).where(Location.name == "tp1")).one().id
    client.post(f"/locations/{place}/samples", data={"name": "b1", "kind": "bag", "top_m": "0.5", "base_m": "0.8"})
    data = transfer_file(some())
    page = send(client, data, into=1)
    assert "name: tp1 here, TP1 in the file" in page.text
    assert send(client, data, into=1, seen_sha256=seen(page)).status_code == 303
    with Session(open_database(database)) as session:
        assert [one.name for one in session.get(Location, place).samples] == ["b1", "U2"]
        found = session.exec(select(Location.name).where(func.lower(Location.name) == "tp1")).all()
        assert found == ["tp1"]


def test_what_checked_tests_print_is_not_taken_without_a_reason(client, database):
    with Session(open_database(database)) as session:
        place = session.get(Test, LIQUID_LIMIT_B1).sample.location
        before = place.level_m
        plain = {"name": place.name, "kind": place.kind, "depth_m": place.depth_m, "samples": (), "layers": ()}
    moved = replace(some().places[0], **plain, level_m=99.0)
    data = transfer_file(some(places=(moved,)))
    page = send(client, data, into=1)
    taken = {"chosen": [f"{plain['name']}|level_m"], "seen_sha256": seen(page)}
    refused = send(client, data, into=1, **taken)
    assert refused.status_code == 422
    assert "say why: checked tests print this" in refused.text
    with Session(open_database(database)) as session:
        assert session.get(Test, LIQUID_LIMIT_B1).sample.location.level_m == before
    assert send(client, data, into=1, **taken, reason="levelled again").status_code == 303
