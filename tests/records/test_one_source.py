"""Whatever is done with a sample's tests, in whatever order, every page, sheet, list and file says the same of every
result."""

import csv
import io
import json
import tempfile
from pathlib import Path

import openpyxl
from hypothesis import Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)
from sqlmodel import Session, select

from tests import THOROUGH
from tests.records import small_laboratory
from tests.records.small_laboratory import CHECKER, LEANING, MANAGER, SECOND, TECHNICIAN, heavier
from vadum.exchange.results import results_csv, results_xlsx
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.history import restore
from vadum.records.identity import card_of
from vadum.records.positions import placed_tests
from vadum.records.saving import LOCKED, Change, save
from vadum.records.site import site_of
from vadum.records.standing import standing_of
from vadum.records.states import RefusedMove, move, moved_now, moves_of
from vadum.records.tables import Project, Test
from vadum.report import sample as sample_sheet
from vadum.report.issuing import issue
from vadum.report.log import log_part
from vadum.report.sample import sample_part
from vadum.report.sheet import sheet_of
from vadum.soil.registry import METHODS
from vadum.web.api.results import _results
from vadum.web.pages.transfer.routes import _sent
from vadum.web.pages.worksheet.routes import Preview, previewed, view

METHOD = st.sampled_from(LEANING)


class Laboratory(RuleBasedStateMachine):
    """A sample on which people save, void, reopen, check, keep, issue and go back at random."""

    base: Path

    @initialize()
    def begin(self):
        self.folder = tempfile.TemporaryDirectory(prefix="one-source-")
        engine = open_database(small_laboratory.copy_of(self.base, Path(self.folder.name)))
        self.session = Session(engine, expire_on_commit=False)
        self.frozen = {}

    def teardown(self):
        if hasattr(self, "session"):
            self.session.close()
            self.session.bind.dispose()
            self.folder.cleanup()

    def the(self, method):
        return self.session.exec(select(Test).where(Test.method == method)).first()

    @rule(method=st.sampled_from(LEANING[:3]), by=st.sampled_from([-0.2, -0.1, 0.1, -2.0, 0.2]))
    def edit(self, method, by):
        test = self.the(method)
        if test.state not in LOCKED:
            heavier(self.session, test, by)

    @rule(method=METHOD, number=st.integers(1, 6))
    def go_back(self, method, number):
        test = self.the(method)
        if test.state not in LOCKED and number <= test.revision:
            restore(
                self.session,
                test,
                number,
                base_revision=test.revision,
                who=SECOND,
                reason="back",
                save_key=f"back-{test.id}-{test.revision}",
            )

    @rule(washing=st.sampled_from(["washed", "dry only"]))
    def choose(self, washing):
        test = self.the("sieve")
        if test.state not in LOCKED:
            save(self.session, test, Change(test.revision, SECOND, settings={"washing": washing}))

    @rule(method=METHOD)
    def void(self, method):
        self.tried(method, "void", SECOND)

    @rule(method=METHOD)
    def reopen(self, method):
        self.tried(method, "reopen", CHECKER)

    @rule(method=METHOD, who=st.sampled_from([CHECKER, MANAGER]))
    def check(self, method, who):
        self.tried(method, "done", TECHNICIAN)
        self.tried(method, "check", who)

    @rule(method=METHOD)
    def keep(self, method):
        self.tried(method, "keep", CHECKER)

    def tried(self, method, action, who):
        try:
            move(self.session, self.the(method), action, who=who, reason="at random")
        except RefusedMove:
            self.session.rollback()

    @precondition(lambda self: any(t.state == "checked" for t in self.session.exec(select(Test)).all()))
    @rule()
    def issue(self):
        test = next(t for t in self.session.exec(select(Test)).all() if t.state == "checked")
        try:
            issue(self.session, test, MANAGER)
        except RefusedMove:
            self.session.rollback()

    @invariant()
    def all_say_the_same(self):
        if not hasattr(self, "session"):
            return
        session = self.session
        session.expire_all()
        assert list(troubles(session)) == []
        project = session.exec(select(Project)).one()
        tests = [t for t in session.exec(select(Test).where(Test.sample_id == 1)).all() if t.state != "void"]
        standings = {t.id: standing_of(session, t) for t in tests}
        truth = {number: texts(one.reduction.parameters) for number, one in standings.items()}
        for test in tests:
            self.frozen_stays(test, truth[test.id], standings[test.id].check)
            for said in one_by_one(session, test, standings[test.id].reduction.parameters):
                assert said == truth[test.id], test.method
        for name, said in together(session, project).items():
            for number, found in said.items():
                expected = {k: v for k, v in truth[number].items() if k in found}
                assert found == expected, (name, number)
            if name in ("lines", "csv"):
                assert said.keys() == {n for n, found in truth.items() if found}, name

    def frozen_stays(self, test, found, check):
        """A result does not change from its check on until it is checked again or reopened."""
        key = test.id
        if test.state not in ("checked", "issued"):
            self.frozen.pop(key, None)
            return
        before = self.frozen.get(key)
        assert before is None or before[0] != check.id or before[1] == found
        self.frozen[key] = (check.id, found)
        assert bool(test.moved) == ("keep" in moves_of(test, moved_now(self.session, test)))


def texts(parameters):
    return {p.symbol: p.text for p in parameters}


def one_by_one(session, test, parameters):
    """Yield what each place that shows one test says of it."""
    yield {p["symbol"]: p["text"] for p in test.summary.get("parameters", {}).values()}
    data = sheet_of(session, test).data
    columns = [head.split()[-1] for head in data["together"]["columns"]]
    side = {
        f"{symbol} {number}": text
        for symbol, _, _, said in data["together"]["lines"]
        for number, text in zip(columns, said, strict=True)
        if text != "–"
    }
    yield {p["symbol"]: p["text"] for p in (*data["headline"], *data["further"], *data["opinions"])} | side
    verdict = view(session, test)["verdict"]
    strip = [p for p in (verdict["headline"], *verdict["others"]) if p]
    headline = set(METHODS[test.method].headline)
    shown = [p.symbol for p in parameters if p.key in headline]
    yield texts(parameters) | {p["symbol"]: p["text"] for p in strip if p["symbol"] in shown}
    seen = json.loads(previewed(session.get_bind(), test.id, Preview()).body)["verdict"]
    assert (seen["headline"], seen["others"]) == (verdict["headline"], verdict["others"])
    line = sample_sheet.test_line(test)[1]
    for part in filter(None, line.split(", ")):
        symbol, _, words = part.partition(" ")
        assert any(f"{p.symbol} {p.text}" in line for p in parameters), (symbol, words)


def together(session, project):
    """Return what each place that shows many tests says of them, by test and symbol."""
    found = {name: {} for name in ("lines", "csv", "geojson", "transfer", "card", "sample sheet", "log")}
    site = site_of(project)
    for line in site.lines:
        if line.sample:
            found["lines"].setdefault(line.test, {})[line.symbol] = line.text
    results = _results(session, project.id)
    rows = list(csv.DictReader(io.StringIO(results_csv(results))))
    for row in rows:
        found["csv"].setdefault(int(row["test"]), {})[row["symbol"]] = None
    for one in results:
        found["csv"][one.number] = texts(one.reduction.parameters) if one.reduction.parameters else {}
    found["csv"] = {number: said for number, said in found["csv"].items() if said}
    book = openpyxl.load_workbook(io.BytesIO(results_xlsx(results, site.spreads)))
    head, *lines = book["results"].iter_rows(values_only=True)
    for name in ("reported", "words"):
        kept = ["" if line[head.index(name)] is None else str(line[head.index(name)]) for line in lines]
        assert [_number(text) for text in kept] == [_number(row[name]) for row in rows]
    for one in placed_tests(project):
        found["geojson"][one.test.id] = {p["symbol"]: p["text"] for p in one.results.values()}
    for sent in _sent(session, project).tests:
        found["transfer"][sent.number] = texts(sent.reduction.parameters)
    for sample in project.locations[0].samples:
        card = card_of(session, sample)
        for fact in (*card.facts, *card.names.values()):
            found["card"].setdefault(fact.test_id, {})[fact.symbol] = fact.text
        printed = {symbol: text.removesuffix("*") for symbol, text, _ in sample_part(session, sample).data["facts"]}
        assert printed == {fact.symbol: fact.text for fact in card.facts}
    log_part(project.locations[0])
    for value in site.values:
        found["log"].setdefault(value.test, {})[value.quantity.symbol] = value.text
    found["log"] = {
        n: {k: v for k, v in said.items() if k in found["lines"].get(n, {})} for n, said in found["log"].items()
    }
    return found


def _number(text):
    try:
        return float(text)
    except ValueError:
        return text


def test_every_output_says_the_same_after_every_step(small):
    Laboratory.base = small
    run = settings(phases=[Phase.generate], max_examples=40 if THOROUGH else 2, stateful_step_count=14)
    run_state_machine_as_test(Laboratory, settings=run)
