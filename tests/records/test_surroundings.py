"""Whatever people do around their tests, in whatever order - samples corrected, moved, merged and taken away, tins
weighed again, presets and limits chosen - the record holds together and what was checked stays as it was."""

import io
import tempfile
import zipfile
from pathlib import Path

from fastapi.testclient import TestClient
from hypothesis import Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test
from sqlmodel import Session, select

from tests import THOROUGH
from tests.records import small_laboratory
from tests.records.small_laboratory import heavier
from vadum.records.archive import bring_in, export
from vadum.records.database import open_database
from vadum.records.doctor import troubles
from vadum.records.saving import LOCKED
from vadum.records.standing import standing_of
from vadum.records.tables import Correction, Equipment, Location, Project, Sample, Test
from vadum.web.app import create_app

WHY = {"reason": "at random"}
ROW = {"project": Project, "location": Location, "sample": Sample, "equipment": Equipment}
ROOM = {Location: "locations", Sample: "samples", Equipment: "equipment"}
WHICH, NAME = st.integers(0, 5), st.sampled_from(["B1", "B2", "U3", "TP1", "TP2", "bh7"])
MASS, SCHOOL = st.sampled_from(["", "300", "9,5 kg"]), st.sampled_from(["multipoint", "one-point", "fall-cone"])
DEPTH, REACH = st.sampled_from([0.0, 0.4, 1.0, 2.5]), st.sampled_from([0.2, 0.3, 1.5])
# A sheet is not issued through this door: it takes as long as all the rest.
ACTION = st.sampled_from(["done", "check", "keep", "reopen", "void"])


class Surroundings(RuleBasedStateMachine):
    """People at the pages of a laboratory of one project."""

    base: Path

    @initialize()
    def begin(self):
        self.folder = tempfile.TemporaryDirectory(prefix="surroundings-")
        self.database = small_laboratory.copy_of(self.base, Path(self.folder.name))
        self.app = create_app(self.database)
        self.client = TestClient(self.app, base_url="http://127.0.0.1", raise_server_exceptions=False)
        self.client.__enter__()
        self.frozen = {}

    def teardown(self):
        if hasattr(self, "client"):
            self.client.__exit__(None, None, None)
            self.app.state.engine.dispose()
            self.folder.cleanup()

    def every(self, table):
        with Session(self.app.state.engine, expire_on_commit=False) as session:
            return session.exec(select(table).order_by(table.id)).all()

    def one(self, table, which):
        rows = self.every(table)
        return rows[which % len(rows)] if rows else None

    def send(self, address, data, who="checker"):
        """Send a form; it is kept, or refused in words."""
        self.client.cookies.set("vadum_who", who)
        reply = self.client.post(address, data=data, follow_redirects=False)
        assert reply.status_code in (303, 404, 409, 422), (address, data, reply.status_code, reply.text[:300])
        return reply

    @rule(name=NAME, depth=REACH)
    def add_location(self, name, depth):
        self.send("/projects/1/locations", {"name": name, "kind": "borehole", "depth_m": depth * 3})

    @rule(which=WHICH, name=NAME, top=DEPTH, thick=REACH)
    def add_sample(self, which, name, top, thick):
        if place := self.one(Location, which):
            form = {"name": name, "kind": "bag", "top_m": top, "base_m": top + thick}
            self.send(f"/locations/{place.id}/samples", form)

    @rule(which=WHICH, name=NAME, top=DEPTH, thick=REACH, mass=MASS, why=st.booleans())
    def correct_sample(self, which, name, top, thick, mass, why):
        if bag := self.one(Sample, which):
            form = {"name": name, "kind": "tube", "top_m": top, "base_m": top + thick, "mass_g": mass}
            self.send(f"/samples/{bag.id}", form | (WHY if why else {}))

    @rule(which=WHICH, name=NAME, depth=st.sampled_from(["1", "3", "4.5"]), why=st.booleans())
    def correct_location(self, which, name, depth, why):
        if place := self.one(Location, which):
            form = {"name": name, "kind": "test pit", "depth_m": depth}
            self.send(f"/locations/{place.id}", form | (WHY if why else {}))

    @rule(which=WHICH, into=WHICH)
    def merge(self, which, into):
        if (place := self.one(Location, which)) and (other := self.one(Location, into)):
            self.send(f"/locations/{place.id}/merge", {"into": other.id} | WHY)

    @rule(table=st.sampled_from([Location, Sample, Equipment]), which=st.integers(0, 40))
    def take_away(self, table, which):
        if row := self.one(table, which):
            self.send(f"/{ROOM[table]}/{row.id}/remove", {})

    @rule(which=WHICH, sample=WHICH)
    def move_test(self, which, sample):
        if (test := self.one(Test, which)) and (bag := self.one(Sample, sample)):
            self.send(f"/tests/{test.id}/sample", {"sample_id": bag.id} | WHY)

    @rule(which=WHICH, by=st.sampled_from([-0.2, 0.1, 0.2]))
    def measure(self, which, by):
        with Session(self.app.state.engine, expire_on_commit=False) as session:
            test = session.get(Test, 1 + which % len(self.every(Test)))
            if test and test.state not in LOCKED and test.method in ("water-content", "liquid-limit", "plastic-limit"):
                heavier(session, test, by)

    @rule(which=WHICH, action=ACTION, who=st.sampled_from(["checker", "technician 2"]))
    def move(self, which, action, who):
        if test := self.one(Test, which):
            self.client.cookies.set("vadum_who", who)
            reply = self.client.post(f"/api/tests/{test.id}/move", json={"action": action} | WHY)
            assert reply.status_code in (200, 409), reply.text

    @rule(which=st.integers(0, 40), by=st.sampled_from([-0.05, 0.07, 2.0]))
    def weigh_a_tin_again(self, which, by):
        tins = [one for one in self.every(Equipment) if one.kind == "tin"]
        if tins:
            tin = tins[which % len(tins)]
            self.send("/equipment/tins", {"text": f"{tin.name} {tin.tare_g + by:.2f}", "keeps": "yes"})

    @rule(school=SCHOOL, limits=st.sampled_from(["simple", "guarded"]))
    def choose(self, school, limits):
        self.send("/projects/1/presets/liquid-limit", {"school": school})
        self.send("/projects/1/units", {"units": "SI", "decimal_mark": ".", "limits": limits})

    @rule(which=WHICH, method=st.sampled_from(["water-content", "liquid-limit", "vane"]))
    def plan(self, which, method):
        if (bag := self.one(Sample, which)) and len(self.every(Test)) < 12:
            self.send(f"/samples/{bag.id}/tests", {"method": method, "anyway": "1"})

    @rule()
    def pack_and_bring_elsewhere(self):
        with Session(self.app.state.engine) as session:
            packed = export(session, session.get(Project, 1))
        with tempfile.TemporaryDirectory() as folder:
            engine = open_database(Path(folder) / "other.sqlite")
            with Session(engine) as session:
                brought = bring_in(session, packed)
                assert list(troubles(session)) == []
                assert parts(export(session, brought)) == parts(packed)
            engine.dispose()

    @invariant()
    def the_record_holds_together(self):
        if not hasattr(self, "client"):
            return
        with Session(self.app.state.engine) as session:
            assert list(troubles(session)) == []
            for line in session.exec(select(Correction)):
                assert line.of == "laboratory" or session.get(ROW[line.of], line.row_id), line
            for test in session.exec(select(Test)):
                self.what_was_checked_stays(session, test)
        self.names_are_told_apart()

    def what_was_checked_stays(self, session, test):
        if test.state not in ("checked", "issued"):
            self.frozen.pop(test.id, None)
            return
        standing = standing_of(session, test)
        said = standing.check.id, [(p.symbol, p.text) for p in standing.reduction.parameters]
        before = self.frozen.setdefault(test.id, said)
        assert before == said or before[0] != said[0]
        self.frozen[test.id] = said

    def names_are_told_apart(self):
        for table, within in ((Location, "project_id"), (Sample, "location_id"), (Equipment, "kind")):
            names = [(getattr(row, within), row.name.casefold()) for row in self.every(table)]
            assert len(set(names)) == len(names), names

    @invariant()
    def every_page_opens(self):
        if not hasattr(self, "client"):
            return
        pages = ["/", "/projects/1", "/board", "/projects/1/summary"]
        pages += [f"/samples/{row.id}" for row in self.every(Sample)]
        pages += [f"/locations/{row.id}" for row in self.every(Location)]
        for page in pages:
            assert self.client.get(page).status_code == 200, page


def parts(packed):
    with zipfile.ZipFile(io.BytesIO(packed)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def test_the_record_holds_together_whatever_is_done_around_it(small):
    Surroundings.base = small
    run = settings(phases=[Phase.generate], max_examples=60 if THOROUGH else 1, stateful_step_count=16, deadline=None)
    run_state_machine_as_test(Surroundings, settings=run)
