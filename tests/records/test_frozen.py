"""What was checked stays as it was checked, and says when the ground under it moves."""

import re
from datetime import date

import pytest
from sqlmodel import select

from tests.records.small_laboratory import CHECKER, MANAGER, SECOND, TECHNICIAN, equipment, heavier, the, typed
from vadum.records.checks import freeze
from vadum.records.dependents import renew_users
from vadum.records.doctor import repaired, troubles
from vadum.records.rules import Rules, keep_rules
from vadum.records.saving import Change, ReusedKey, save
from vadum.records.standing import live, result_of, standing_of
from vadum.records.states import RefusedMove, contributors, move, moved_now, moves_of
from vadum.records.tables import Calibration, Check, Equipment, LaboratorySetting, Project, Revision, Test
from vadum.report.issuing import issue
from vadum.report.job import ReportError, begin
from vadum.report.log import log_part
from vadum.report.sample import sample_part
from vadum.report.sheet import sheet_of
from vadum.report.wanted import Wanted
from vadum.soil.registry import METHODS


def text(session, method, key):
    """Return a result as the worksheet and as lists show it; they are one."""
    test = the(session, method)
    shown = result_of(session, test).parameter(key)
    assert test.summary["parameters"].get(key, {}).get("text") == (shown.text if shown else None)
    return shown.text if shown else None


def check(session, *methods, who=CHECKER):
    for method in methods:
        move(session, the(session, method), "check", who=who)


def change_limit(session, by=-0.15):
    """Reopen the liquid limit if it is closed, and change it."""
    limit = the(session, "liquid-limit")
    if limit.state not in ("running", "reduced"):
        move(session, limit, "reopen", who=CHECKER, reason="tin misread")
    heavier(session, limit, by)
    return limit


def test_a_checked_result_does_not_follow_what_it_leant_on(session):
    check(session, "liquid-limit", "plastic-limit")
    assert text(session, "plastic-limit", "plasticity_index") == "18"
    revisions = the(session, "plastic-limit").revision
    change_limit(session)
    limit = text(session, "liquid-limit", "liquid_limit")
    assert limit != "38"
    plastic = the(session, "plastic-limit")
    assert text(session, "plastic-limit", "plasticity_index") == "18"
    assert plastic.revision == revisions
    printed = sheet_of(session, plastic).data
    assert {p["symbol"]: p["text"] for p in printed["headline"]}["PI"] == "18"
    assert plastic.moved == [f"LL of test 3 is now {limit} %, was 38 % when this was checked"]
    assert printed["moved"] == plastic.moved
    assert list(troubles(session)) == []


def test_on_moved_ground_nothing_is_issued_until_it_is_checked_again_or_kept(session):
    check(session, "liquid-limit", "plastic-limit")
    change_limit(session)
    plastic = the(session, "plastic-limit")
    assert moves_of(plastic, moved_now(session, plastic)) == ["check", "keep", "reopen"]
    with pytest.raises(RefusedMove, match="LL of test 3 is now"):
        issue(session, plastic, CHECKER)
    with pytest.raises(RefusedMove, match="Give a reason"):
        move(session, plastic, "keep", who=CHECKER)
    move(session, plastic, "keep", who=CHECKER, reason="the client asked for the first limit")
    assert plastic.moved == []
    kept = sheet_of(session, plastic).data["kept"]
    assert "was 38 % when this was checked. Kept by checker" in kept
    assert kept.endswith("the client asked for the first limit")
    assert issue(session, plastic, MANAGER).number
    # Kept on this ground only: when it moves on, it says so again.
    change_limit(session, by=-0.1)
    assert "LL of test 3" in plastic.moved[0]
    assert moves_of(plastic, moved_now(session, plastic)) == ["keep", "reopen"]


def test_checking_again_takes_the_ground_as_it_is(session):
    check(session, "liquid-limit", "plastic-limit")
    change_limit(session)
    plastic = the(session, "plastic-limit")
    with pytest.raises(RefusedMove, match="A second person checks"):
        move(session, plastic, "check", who=TECHNICIAN)
    move(session, plastic, "check", who=CHECKER)
    assert plastic.moved == []
    assert text(session, "plastic-limit", "plasticity_index") != "18"
    assert len(session.exec(select(Check).where(Check.test_id == plastic.id)).all()) == 2
    with pytest.raises(RefusedMove, match="Nothing this test leans on has moved"):
        move(session, plastic, "check", who=CHECKER)


def test_void_and_reopen_renew_what_leant_on_them(session):
    assert text(session, "plastic-limit", "liquidity_index") == "0.17"
    water = the(session, "water-content")
    move(session, water, "void", who=SECOND, reason="tin spilled")
    assert text(session, "plastic-limit", "liquidity_index") is None
    move(session, water, "reopen", who=SECOND, reason="it was another tin")
    assert text(session, "plastic-limit", "liquidity_index") == "0.17"
    assert list(troubles(session)) == []


def test_only_a_reportable_result_feeds_others(session):
    limit = the(session, "liquid-limit")
    move(session, limit, "reopen", who=SECOND, reason="once more")
    save(session, limit, Change(limit.revision, SECOND, cells={"trials.0.mass_tin_dry_g": "12.00"}))
    assert not limit.summary["reportable"]
    assert limit.summary["stops"] or not limit.summary["complete"]
    assert text(session, "plastic-limit", "plasticity_index") is None
    card = sample_part(session, limit.sample).data
    assert "LL" not in [fact[0] for fact in card["facts"]]


def test_a_sheet_says_what_it_leans_on_and_that_nobody_has_checked_it(session):
    plastic = the(session, "plastic-limit")
    assert "LL 38 % of test 3, not checked yet" in sheet_of(session, plastic).data["leans"]
    check(session, "liquid-limit")
    assert "LL 38 % of test 3" in sheet_of(session, plastic).data["leans"]


def test_a_moved_default_does_not_reach_what_is_on_record(session, monkeypatch):
    """A school that becomes another by default: the record says which one was used, and goes on with it."""
    water = the(session, "water-content")
    check(session, "water-content")
    before = text(session, "water-content", "water_content")
    settings = METHODS["water-content"].Settings
    usual = {name: info.default for name, info in settings.model_fields.items()}
    for name, info in settings.model_fields.items():
        if isinstance(info.default, float):
            monkeypatch.setattr(info, "default", info.default * 1.1 + 1)
        if name == "rounding":
            monkeypatch.setattr(info, "default", "1")
    settings.model_rebuild(force=True)
    try:
        assert water.settings == {k: v for k, v in usual.items() if k in water.settings}
        assert set(water.setting_origins.values()) == {"default"}
        move(session, water, "reopen", who=SECOND, reason="look again")
        assert text(session, "water-content", "water_content") == before
    finally:
        monkeypatch.undo()
        settings.model_rebuild(force=True)


def test_a_chosen_setting_is_kept_with_who_chose_it(session):
    limit = the(session, "liquid-limit")
    move(session, limit, "reopen", who=SECOND, reason="other school")
    save(session, limit, Change(limit.revision, SECOND, settings={"school": "one-point"}))
    assert limit.settings["school"] == "one-point"
    assert limit.setting_origins["school"] == SECOND
    assert limit.settings.keys() == METHODS["liquid-limit"].Settings.model_fields.keys()
    assert ["school", "one-point, percussion cup"] in [
        [k.lower(), v] for k, v in sheet_of(session, limit).data["settings"]
    ]
    save(session, limit, Change(limit.revision, SECOND, settings={"school": "multipoint"}))
    assert limit.setting_origins["school"] == "default"


def test_a_newer_method_is_offered_with_both_results_and_never_reaches_a_check(session, monkeypatch):
    from vadum.records.catching_up import catch_up

    check(session, "liquid-limit")
    method = METHODS["plastic-limit"]
    reduce = type(method).reduce

    def newer(self, readings, settings, context, unread):
        found = reduce(self, readings, settings, context, unread)
        for parameter in found.parameters:
            parameter.text = {"18": "19"}.get(parameter.text, parameter.text)
        return found

    monkeypatch.setattr(type(method), "reduce", newer)
    was, now = method.version, f"{method.version}.1"
    monkeypatch.setattr(type(method), "version", now)
    monkeypatch.setattr(type(METHODS["liquid-limit"]), "version", now)
    catch_up(session)
    # Offered once, and the record is still what its newest revision left: an archive of it opens.
    catch_up(session)
    assert list(troubles(session)) == []
    plastic, limit = the(session, "plastic-limit"), the(session, "liquid-limit")
    assert (plastic.offered["version"], plastic.version) == (was, was)
    assert plastic.offered["parameters"]["plasticity_index"]["text"] == "18"
    assert text(session, "plastic-limit", "plasticity_index") == "19"
    assert "take" in moves_of(plastic, moved_now(session, plastic))
    with pytest.raises(RefusedMove, match="newer version"):
        move(session, plastic, "check", who=CHECKER)
    move(session, plastic, "take", who=SECOND)
    move(session, plastic, "check", who=CHECKER)
    assert (plastic.version, standing_of(session, plastic).version) == (now, now)
    assert (limit.offered, standing_of(session, limit).version, limit.version) == ({}, was, was)
    catch_up(session)
    assert plastic.offered == {}


def test_a_text_that_an_earlier_program_took_for_a_blank_is_asked_for(session):
    from vadum.records.catching_up import catch_up

    limit = the(session, "liquid-limit")
    move(session, limit, "reopen", who=SECOND, reason="a tin weighed again")
    summary = dict(limit.summary)
    save(session, limit, Change(limit.revision, SECOND, cells={"trials.0.mass_tin_dry_g": "2O.31"}))
    limit.summary = summary
    session.merge(LaboratorySetting(key="lists renewed", value="by the program before"))
    session.commit()
    assert limit.summary["reportable"]
    catch_up(session)
    assert not limit.summary["reportable"]
    assert list(troubles(session)) == []


def test_a_check_that_an_earlier_program_let_pass_without_a_reading_is_named(session, monkeypatch):
    limit = the(session, "liquid-limit")
    move(session, limit, "reopen", who=SECOND, reason="a tin weighed again")
    with monkeypatch.context() as earlier:
        earlier.setattr("vadum.soil.contract.pipeline.not_read", lambda *_: ())
        save(session, limit, Change(limit.revision, SECOND, cells={"trials.0.closure_mm": "1E"}))
        move(session, limit, "done", who=SECOND)
        check(session, "liquid-limit")
    said = next(one for one in troubles(session) if "without a reading" in one)
    assert said.startswith(f"test {limit.id}: ")
    assert "in trials, row 1: “1E” is not taken" in said


def test_whoever_changed_anything_of_the_content_does_not_check(session):
    balance = equipment(session, "Balance 5")
    changes = {
        "equipment": lambda test: Change(test.revision, SECOND, uses=[balance.id]),
        "a setting": lambda test: Change(test.revision, SECOND, settings={"school": "one-point"}),
        "a row left out": lambda test: Change(test.revision, SECOND, cells={"trials.2.left_out": "lumps"}),
    }
    for what, change in changes.items():
        limit = the(session, "liquid-limit")
        if limit.state == "checked":
            move(session, limit, "reopen", who=CHECKER, reason=what)
        before = contributors(session, limit)
        save(session, limit, change(limit))
        assert SECOND in contributors(session, limit), what
        if limit.state == "running" and limit.summary["complete"]:
            move(session, limit, "done", who=TECHNICIAN)
        if limit.state == "reduced":
            with pytest.raises(RefusedMove, match="A second person checks"):
                move(session, limit, "check", who=SECOND)
        assert before <= contributors(session, limit) | {TECHNICIAN}


def test_after_a_check_only_later_work_counts(session):
    check(session, "liquid-limit")
    limit = the(session, "liquid-limit")
    move(session, limit, "reopen", who=CHECKER, reason="one tin")
    assert contributors(session, limit) == {TECHNICIAN}, (
        "nothing was changed since: the check would be of the same work"
    )
    heavier(session, limit, by=-0.1)
    assert contributors(session, limit) == {SECOND}
    move(session, limit, "done", who=SECOND)
    move(session, limit, "check", who=TECHNICIAN)


def test_an_issued_report_shows_only_what_was_checked_in_every_chapter(session):
    project = session.exec(select(Project)).one()
    check(session, "liquid-limit", "plastic-limit")
    wanted = Wanted(title="x", chapters=["samples"], methods=["liquid-limit"], issue=True)
    sample = the(session, "liquid-limit").sample
    card = sample_part(session, sample, wanted.shows).data
    assert [fact[0] for fact in card["facts"]] == ["LL"]
    assert [line[0] for line in card["tests"]] == ["Liquid limit"]
    draft = sample_part(session, sample, Wanted(title="x", chapters=["samples"]).shows).data
    marked = {fact[0]: fact[1] for fact in draft["facts"]}
    assert marked["w"].endswith("*")
    assert marked["LL"] == "38"
    assert draft["unchecked"]
    log = log_part(sample.location, wanted.shows).pictures[0].svg
    assert "23.0" not in log
    whole = Wanted(title="x", chapters=["summary"], issue=True)
    with pytest.raises(ReportError, match="not checked"):
        begin(session, project, whole, MANAGER)


def test_a_report_keeps_to_its_scope_in_every_chapter(session):
    from vadum.demo.builder import Builder

    project = session.exec(select(Project)).one()
    other = Builder(session).location(project, "TP9", "test pit", 2.0, ((2.0, "sand"),))
    sample = the(session, "liquid-limit").sample
    wanted = Wanted(title="x", chapters=["logs"], samples=[sample.id])
    assert [place.name for place in wanted.places(project)] == ["TP1"]
    assert other.name == "TP9"


def test_who_alone_checked_all_does_not_issue_unless_the_laboratory_allows_it(session):
    project = session.exec(select(Project)).one()
    check(session, "liquid-limit", "plastic-limit")
    wanted = Wanted(title="x", chapters=["tests"], methods=["liquid-limit", "plastic-limit"], issue=True)
    with pytest.raises(ReportError, match="you alone checked everything"):
        begin(session, project, wanted, CHECKER)
    report = begin(session, project, wanted, MANAGER, "manager")
    assert (report.who, report.role) == (MANAGER, "manager")
    session.delete(report)
    session.commit()
    keep_rules(session, Rules(one_checks_and_issues=True))
    assert begin(session, project, wanted, CHECKER).id


def test_on_moved_ground_no_report_is_issued(session):
    project = session.exec(select(Project)).one()
    check(session, "liquid-limit", "plastic-limit")
    change_limit(session)
    wanted = Wanted(title="x", chapters=["tests"], methods=["plastic-limit"], issue=True)
    with pytest.raises(ReportError, match="ground that has moved"):
        begin(session, project, wanted, MANAGER)


def test_equipment_that_changes_moves_the_ground_too(session):
    tin = equipment(session, the(session, "liquid-limit").readings["trials"][0]["tin"])
    check(session, "liquid-limit")
    before = text(session, "liquid-limit", "liquid_limit")
    tin.tare_g = round(tin.tare_g + 1.5, 2)
    session.add(tin)
    session.flush()
    renew_users(session, tin)
    session.commit()
    limit = the(session, "liquid-limit")
    assert text(session, "liquid-limit", "liquid_limit") == before
    assert limit.moved[0].startswith(f"tare of tin {tin.name} is now {tin.tare_g:.2f} g")
    assert list(troubles(session)) == []


def test_a_calibration_made_later_does_not_reach_a_check(session):
    water = the(session, "water-content")
    balance = equipment(session, "Balance 2")
    move(session, water, "reopen", who=SECOND, reason="name the balance")
    save(session, water, Change(water.revision, SECOND, uses=[balance.id]))
    move(session, water, "done", who=SECOND)
    check(session, "water-content")
    printed = sheet_of(session, water).data["equipment"]
    session.add(Calibration(equipment_id=balance.id, on=date.today(), due=date(2035, 1, 1), uncertainty=5.0, who="m"))
    session.flush()
    renew_users(session, balance)
    session.commit()
    assert sheet_of(session, water).data["equipment"] == printed
    assert list(troubles(session)) == []


def test_stale_lists_are_renewed_by_the_doctor_and_named(session):
    plastic = the(session, "plastic-limit")
    plastic.summary = plastic.summary | {"parameters": {}, "reportable": False}
    session.add(plastic)
    session.commit()
    assert re.search("test 4: .* is kept as nothing", "\n".join(troubles(session)))
    said = list(repaired(session))
    assert len(said) == 1
    assert said[0].startswith("test 4")
    assert said[0].endswith("renewed")
    assert list(troubles(session)) == []


def test_a_key_used_again_for_something_else_is_refused(session):
    limit = the(session, "liquid-limit")
    first = Change(limit.revision, SECOND, cells={"trials.0.blows": "31"}, save_key="key-of-one-save")
    save(session, limit, first)
    again = Change(first.base_revision, SECOND, cells={"trials.0.blows": "31"}, save_key="key-of-one-save")
    save(session, limit, again)
    assert limit.revision == first.base_revision + 1
    other = Change(limit.revision, SECOND, cells={"trials.0.blows": "12"}, save_key="key-of-one-save")
    with pytest.raises(ReusedKey):
        save(session, limit, other)
    assert limit.readings["trials"][0]["blows"] == 31


def test_a_save_and_what_follows_from_it_are_one_commit(session, monkeypatch):
    """A crash while the dependents are renewed leaves nothing of the save."""
    from vadum.records import saving

    limit = the(session, "liquid-limit")
    numbers = limit.revision, session.exec(select(Revision.id).order_by(Revision.id.desc())).first()
    monkeypatch.setattr(saving, "renew_dependents", lambda *_: 1 / 0)
    with pytest.raises(ZeroDivisionError):
        heavier(session, limit)
    session.rollback()
    session.expire_all()
    again = session.get(Test, limit.id)
    assert (again.revision, session.exec(select(Revision.id).order_by(Revision.id.desc())).first()) == numbers
    assert list(troubles(session)) == []


def test_what_is_typed_anew_says_who_and_which_equipment(session):
    limit = the(session, "liquid-limit")
    ids = [session.exec(select(Equipment.id).where(Equipment.name == "Balance 5")).one()]
    save(session, limit, Change(limit.revision, SECOND, uses=ids))
    newest = session.exec(select(Revision).where(Revision.test_id == limit.id).order_by(Revision.number.desc())).first()
    assert newest.what == "equipment: with Balance 5, without Balance 2, without Cup 1, without Oven 1, without Tool 1"
    typed(session, limit, trials__0__blows="31")


def test_freezing_keeps_only_the_tins_that_stand_in_the_readings(session):
    limit = the(session, "liquid-limit")
    frozen = freeze(session, limit, live(session, limit), CHECKER)
    assert set(frozen.context["tins"]) == {row["tin"] for row in limit.readings["trials"]}


def test_an_inspection_made_later_says_nothing_of_an_earlier_day(session):
    """A cup overdue on the test's day is not made fit for it by an inspection of the next one."""
    from datetime import timedelta

    from vadum.records.context import inspection_states

    cup, limit = equipment(session, "Cup 1"), the(session, "liquid-limit")
    day = limit.updated_at.date()
    assert inspection_states(session, [cup], day)[cup.id] == "fit"
    assert inspection_states(session, [cup], day - timedelta(days=1))[cup.id] == "missing"


def test_a_curve_that_changed_is_said_without_numbers(session):
    for method in ("liquid-limit", "plastic-limit", "sieve", "classification"):
        check(session, method)
    sieve = the(session, "sieve")
    move(session, sieve, "reopen", who=CHECKER, reason="pan misread")
    row = sieve.readings["sieves"][3]
    name = next(key for key in row if key.startswith("mass"))
    save(session, sieve, Change(sieve.revision, SECOND, cells={f"sieves.3.{name}": f"{row[name] * 1.2:.1f}"}))
    said = the(session, "classification").moved
    assert said
    assert "sieve curve of test 5" in said[0]
