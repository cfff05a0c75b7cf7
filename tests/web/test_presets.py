"""Presets: chosen once in the laboratory or a project, what new tests are begun with; tests on record stay."""

import re

import pytest
from fastapi.testclient import TestClient
from sqlmodel import Session

from tests.laboratory import LIQUID_LIMIT_U2
from tests.printed import words_of
from tests.web.hands import read, save
from vadum.records.database import open_database
from vadum.records.presets import LABORATORY, PROJECT, Presets, keep_preset, presettable, words
from vadum.records.saving import BadSettings
from vadum.records.tables import LaboratorySetting, Project, Test
from vadum.soil.registry import METHODS
from vadum.web.app import create_app

LL, SIEVE, HYDROMETER = METHODS["liquid-limit"], METHODS["sieve"], METHODS["hydrometer"]


@pytest.fixture
def lab(database):
    with TestClient(create_app(database)) as client:
        yield client


@pytest.fixture
def session(database):
    with Session(open_database(database)) as session:
        yield session


def as_shown(lab, address):
    """Return the form of a preset as a browser would send it back."""
    page = lab.get(address).text
    form = dict(re.findall(r'<input[^>]*?name="([a-z_0-9]+)"\s+value="([^"]*)"(?![^>]*checkbox)', page))
    form = {k: v for k, v in form.items() if k not in ("back",)}
    for name, options in re.findall(r'<select[^>]*?name="([a-z_0-9]+)"[^>]*>(.*?)</select>', page, re.S):
        chosen = re.search(r'value="([^"]*)"\s+selected', options)
        if chosen:
            form[name] = chosen[1]
    return form


def plan(lab, method, sample=2):
    reply = lab.post(f"/samples/{sample}/tests", data={"method": method, "anyway": "yes"}, follow_redirects=False)
    return int(reply.headers["location"].rsplit("/", 1)[1])


def sheet_words(lab, test):
    return words_of(lab.get(f"/tests/{test}/sheet.pdf").content)


def settings_of(lab, test):
    return lab.get(f"/tests/{test}/bench.json").json()["settings"]


def test_a_new_test_is_begun_as_the_laboratory_chooses(lab):
    before = plan(lab, "liquid-limit")
    form = as_shown(lab, "/presets/liquid-limit") | {"school": "one-point"}
    assert lab.post("/presets/liquid-limit", data=form, follow_redirects=False).status_code == 303
    assert "school one-point, percussion cup" in read(lab.get("/presets"))
    after = plan(lab, "liquid-limit")
    assert settings_of(lab, after)["school"] == "one-point"
    # What was planned before keeps what it was begun with, also once it is saved.
    save(lab, before, cells={"seasoning_min": "960"})
    assert settings_of(lab, before)["school"] != "one-point"
    assert settings_of(lab, LIQUID_LIMIT_U2)["school"] != "one-point"


def test_the_choice_is_shown_where_the_test_is_planned_and_said_on_its_sheet(lab):
    form = as_shown(lab, "/presets/liquid-limit") | {"school": "one-point"}
    lab.post("/presets/liquid-limit", data=form)
    assert "school one-point, percussion cup" in read(lab.get("/samples/2"))
    test = plan(lab, "liquid-limit")
    (school,) = (s for s in lab.get(f"/api/tests/{test}/sheet").json()["settings"] if s["name"] == "school")
    assert (school["value"], school["isDefault"]) == ("one-point", False)
    assert "otherwise than the default" in sheet_words(lab, test)


def test_a_project_leads_over_its_laboratory_and_may_go_back(lab):
    lab.post("/presets/liquid-limit", data=as_shown(lab, "/presets/liquid-limit") | {"school": "one-point"})
    project = "/projects/1/presets/liquid-limit"
    lab.post(project, data=as_shown(lab, project) | {"school": "fall-cone"})
    assert settings_of(lab, plan(lab, "liquid-limit"))["school"] == "fall-cone"
    lab.post(project, data={"own": "yes"})
    assert settings_of(lab, plan(lab, "liquid-limit"))["school"] == "one-point"
    lab.post("/presets/liquid-limit", data={"own": "yes"})
    assert settings_of(lab, plan(lab, "liquid-limit")).get("school") != "one-point"


def test_a_value_that_cannot_be_is_refused_at_its_place_and_nothing_kept(lab):
    form = as_shown(lab, "/presets/triaxial")
    name = next(k for k, v in form.items() if k == "limit_percent")
    reply = lab.post("/presets/triaxial", data=form | {name: "900"})
    assert reply.status_code == 422
    assert 'aria-invalid="true"' in reply.text
    assert 'value="900"' in reply.text
    assert "strain limit" not in read(lab.get("/presets"))
    assert settings_of(lab, plan(lab, "triaxial")).get("limit_percent", 15) == 15


# The record


def test_rows_are_prepared_by_the_preset(session):
    """A sieve stack of the laboratory's own is laid out before anything is typed."""
    names = [name for name, info in HYDROMETER.Settings.model_fields.items() if name == "schedule"]
    assert names
    keep_preset(session, HYDROMETER, None, {"schedule": "dense"}, "manager")
    from vadum.records.presets import begun

    usual = HYDROMETER.begin(HYDROMETER.Settings(), None)
    dense = begun(session, HYDROMETER, None, None)
    assert dense.kept == HYDROMETER.begin(HYDROMETER.Settings(schedule="dense"), None)
    assert dense.kept != usual or HYDROMETER.Settings(schedule="dense").times != HYDROMETER.Settings().times
    assert dense.setting_origins["schedule"] == LABORATORY


def test_whose_choice_a_setting_is_stands_with_the_test(session):
    project = session.get(Project, 1)
    keep_preset(session, LL, None, {"school": "one-point"}, "manager")
    keep_preset(session, LL, project, {"school": "fall-cone"}, "manager")
    presets = Presets.of(session, project)
    assert presets.chosen(LL) == {"school": "fall-cone"}
    assert presets.origins(LL) == {"school": PROJECT}
    assert Presets.of(session, None).origins(LL) == {"school": LABORATORY}
    assert words(LL, presets.chosen(LL)).startswith("school ")


@pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)
def test_every_preset_comes_back_as_it_was_kept(session, method):
    """Kept with every number a little off its default, a preset is what a new test is begun with."""
    usual = method.Settings().model_dump(mode="json")
    wanted = {}
    for name in presettable(method):
        value = usual[name]
        if isinstance(value, float):
            for factor in (1.02, 0.98, 1.2, 0.8):
                try:
                    method.Settings.model_validate(wanted | {name: round(value * factor, 6)})
                except ValueError:
                    continue
                wanted[name] = round(value * factor, 6)
                break
    keep_preset(session, method, None, wanted, "manager")
    kept = Presets.of(session, None).chosen(method)
    assert kept == {name: value for name, value in wanted.items() if value != usual[name]}
    keep_preset(session, method, None, {}, "manager")
    assert Presets.of(session, None).chosen(method) == {}


def test_nothing_drawn_by_hand_is_a_preset():
    assert not any("by_hand" in name for method in METHODS.values() for name in presettable(method))
    assert "peak_1_mm" not in presettable(METHODS["direct-shear"])


def test_what_a_release_no_longer_takes_is_passed_over(session):
    """A word of an older release, or a setting that is gone, neither stops planning nor comes back."""
    kept = '{"liquid-limit": {"school": "of another time", "gone": 3}, "sieve": {}}'
    session.merge(LaboratorySetting(key="presets", value=kept))
    session.commit()
    assert Presets.of(session, None).chosen(LL) == {}


def test_a_preset_that_cannot_be_is_refused(session):
    with pytest.raises(BadSettings):
        keep_preset(session, LL, None, {"school": "nobody's"}, "manager")
    assert session.get(LaboratorySetting, "presets") is None


def test_presets_go_with_the_archive_of_their_project(session, tmp_path):
    from vadum.records.archive import bring_in, export

    project = session.get(Project, 1)
    keep_preset(session, LL, project, {"school": "one-point"}, "manager")
    data = export(session, project)
    with Session(open_database(tmp_path / "other.sqlite")) as other:
        brought = bring_in(other, data)
        assert Presets.of(other, brought).chosen(LL) == {"school": "one-point"}
        assert other.get(Test, 1) is not None
