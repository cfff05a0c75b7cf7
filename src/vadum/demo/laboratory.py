"""Builds the demonstration laboratory: two invented projects, tests in every state, one overdue inspection."""

from datetime import timedelta
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
from sqlmodel import Session, SQLModel, select

from vadum.records.database import open_database, session_on
from vadum.records.saving import Change, record, reduce_test, save, summarise
from vadum.records.states import move
from vadum.records.tables import Equipment, Location, Project, Revision, Sample, Stratum, Test, now
from vadum.soil.registry import method as method_of
from vadum.soil.virtual.plastic_soil import PlasticSoil

SEED = 2611
FAT_CLAY = PlasticSoil(liquid_limit=61.4, plastic_limit=24.6, flow_index=15.8, natural_water_content=33.2, scatter=0.2)
LEAN_CLAY = PlasticSoil(liquid_limit=38.2, plastic_limit=19.7, flow_index=9.6, natural_water_content=22.8, scatter=0.2)
SANDY_CLAY = PlasticSoil(liquid_limit=31.3, plastic_limit=17.2, flow_index=7.9, natural_water_content=16.4, scatter=0.2)
SILT = PlasticSoil(liquid_limit=44.1, plastic_limit=31.5, flow_index=11.2, natural_water_content=36.0, scatter=0.2)


Row = TypeVar("Row", bound=SQLModel)


class _Builder:
    """Adds records to one session, with readings from the virtual soils."""

    def __init__(self, session: Session) -> None:
        self.session = session
        self.rng = np.random.default_rng(SEED)
        self.equipment: dict[str, Equipment] = {}

    def add(self, row: Row) -> Row:
        self.session.add(row)
        self.session.commit()
        return row

    def laboratory(self) -> None:
        for name, kind, note, resolution in (
            ("Balance 2", "balance", "310 g", 0.01),
            ("Balance 5", "balance", "6 kg", 0.1),
            ("Oven 1", "oven", "110 °C, 4 shelves", None),
            ("Oven 3", "oven", "60 °C", None),
            ("Tool 1", "grooving tool", "flat, 2.0 mm tip", None),
        ):
            self.equipment[name] = self.add(Equipment(name=name, kind=kind, note=note, resolution=resolution))
        for name in ("Cup 1", "Cup 2"):
            self.equipment[name] = self.add(
                Equipment(name=name, kind="cup", inspect_every_days=1, note="brass, hard base")
            )
        for number in range(1, 61):
            tare = round(float(self.rng.uniform(16.6, 18.4)), 2)
            self.session.add(Equipment(name=f"T-{number:02d}", kind="tin", tare_g=tare))
        self.session.commit()

    def inspection(self, cup: str, days_ago: float) -> None:
        test = self.add(Test(method="cup-inspection", equipment_id=self.equipment[cup].id))
        self._record_readings(test, method_of(test.method).virtual(None, method_of(test.method).Settings(), self.rng))
        move(self.session, test, "done", who="technician 2")
        then = now() - timedelta(days=days_ago)
        test.created_at = test.updated_at = then
        for revision in self.session.exec(select(Revision).where(Revision.test_id == test.id)):
            revision.at = then
            self.session.add(revision)
        self.session.add(test)
        self.session.commit()

    def location(
        self, project: Project, name: str, kind: str, depth_m: float, strata: tuple[tuple[float, str], ...]
    ) -> Location:
        place = self.add(
            Location(project_id=project.id or 0, name=name, kind=kind, depth_m=depth_m, level_m=round(41 + depth_m, 1))
        )
        top = 0.0
        for base, description in strata:
            self.add(Stratum(location_id=place.id or 0, top_m=top, base_m=base, description=description))
            top = base
        return place

    def sample(
        self, place: Location, name: str, kind: str, top_m: float, base_m: float, mass_g: float, description: str
    ) -> Sample:
        return self.add(
            Sample(
                location_id=place.id or 0,
                name=name,
                kind=kind,
                top_m=top_m,
                base_m=base_m,
                mass_g=mass_g,
                largest_particle_mm=2.0,
                description=description,
            )
        )

    def test(
        self,
        sample: Sample,
        method: str,
        soil: PlasticSoil,
        *,
        state: str = "reduced",
        settings: dict[str, Any] | None = None,
        mistakes: frozenset[str] = frozenset(),
        cup: str = "Cup 1",
        rows: int | None = None,
    ) -> Test:
        """Add a test of a virtual soil; ``rows`` keeps only the first rows, as in a test under way."""
        chosen = method_of(method)
        test = Test(method=method, sample_id=sample.id, settings=settings or {})
        names = ("Balance 2", "Oven 1", *((cup, "Tool 1") if method == "liquid-limit" else ()))
        test.uses = [self.equipment[name] for name in names]
        self.add(test)
        if state == "planned":
            return test
        readings = chosen.virtual(soil, chosen.Settings.model_validate(settings or {}), self.rng, mistakes)
        self._record_readings(test, readings, rows)
        if state in ("reduced", "checked"):
            move(self.session, test, "done", who="technician 1")
        if state == "checked":
            move(self.session, test, "check", who="checker")
        return test

    def _record_readings(self, test: Test, readings: Any, rows: int | None = None) -> None:
        plain = readings.model_dump(mode="json", exclude_none=True)
        for table, lines in plain.items():
            if isinstance(lines, list):
                for line in lines[rows:] if rows else []:
                    line.clear()
                plain[table] = [self._registered(line) for line in lines if line]
        test.readings, test.state = plain, "running"
        test.summary = summarise(reduce_test(self.session, test))
        record(self.session, test, who="technician 1", what="readings = as measured")

    def _registered(self, line: dict[str, Any]) -> dict[str, Any]:
        """Move a row into a registered tin: the soil stays, the tare becomes the register's."""
        if "tin" not in line or "mass_tin_g" not in line:
            return line
        tin = self.session.exec(select(Equipment).where(Equipment.name == line["tin"])).first()
        if tin is None or tin.tare_g is None:
            return line
        shift = tin.tare_g - line.pop("mass_tin_g")
        masses = {k: round(v + shift, 2) for k, v in line.items() if k.startswith("mass_tin_")}
        return line | masses


def build(path: Path) -> None:
    """Make the demonstration database at ``path``."""
    with session_on(open_database(path)) as session:
        lab = _Builder(session)
        lab.laboratory()
        lab.inspection("Cup 1", 0)
        lab.inspection("Cup 2", 9)
        _harrow_mere(lab)
        _quill_lane(lab)


def _harrow_mere(lab: _Builder) -> None:
    project = lab.add(
        Project(name="Harrow Mere bypass", client="county roads office", note="Cutting and embankment, km 2.1 to 3.4")
    )
    pit = lab.location(
        project,
        "TP4",
        "test pit",
        4.2,
        ((0.35, "topsoil"), (2.1, "brown fissured clay"), (3.3, "grey sandy clay"), (4.2, "silt, quick when shaken")),
    )
    b1 = lab.sample(pit, "B1", "bag", 0.60, 0.90, 4200, "brown clay, stiff")
    u2 = lab.sample(pit, "U2", "tube", 1.10, 1.40, 2600, "brown clay, fissured")
    b3 = lab.sample(pit, "B3", "bag", 2.40, 2.70, 5100, "grey sandy clay")
    b4 = lab.sample(pit, "B4", "bag", 3.50, 3.80, 3900, "grey silt")
    lab.test(b1, "water-content", FAT_CLAY, state="checked")
    lab.test(b1, "liquid-limit", FAT_CLAY, state="checked")
    lab.test(b1, "plastic-limit", FAT_CLAY, state="checked")
    lab.test(u2, "water-content", LEAN_CLAY)
    lab.test(u2, "liquid-limit", LEAN_CLAY, state="running", mistakes=frozenset({"too-dry-trial"}))
    lab.test(u2, "plastic-limit", LEAN_CLAY, state="running", rows=1)
    lab.test(b3, "liquid-limit", SANDY_CLAY, settings={"school": "one-point"})
    lab.test(b3, "plastic-limit", SANDY_CLAY)
    silt = lab.test(b4, "liquid-limit", SILT, state="planned")
    save(
        lab.session, silt, Change(base_revision=0, who="technician 2", cells={"not_determinable": "slides in the cup"})
    )
    move(lab.session, silt, "done", who="technician 2")
    rolled = lab.test(b4, "plastic-limit", SILT, state="planned")
    save(
        lab.session,
        rolled,
        Change(base_revision=0, who="technician 2", cells={"not_determinable": "cannot be rolled to 3.2 mm"}),
    )
    hole = lab.location(
        project, "BH2", "borehole", 8.0, ((0.4, "made ground"), (5.2, "brown clay"), (8.0, "grey silty clay"))
    )
    u1 = lab.sample(hole, "U1", "tube", 1.50, 1.95, 2400, "brown clay")
    u5 = lab.sample(hole, "U5", "tube", 5.60, 6.05, 2500, "grey silty clay, soft")
    lab.test(u1, "liquid-limit", FAT_CLAY, settings={"school": "fall-cone"})
    lab.test(u1, "plastic-limit", FAT_CLAY)
    lab.test(
        u5,
        "water-content",
        SILT,
        state="running",
        settings={"drying": "microwave"},
        mistakes=frozenset({"taken-out-early"}),
    )
    lab.test(u5, "liquid-limit", SILT, cup="Cup 2")
    lab.test(u5, "plastic-limit", SILT, mistakes=frozenset({"portions-apart"}), state="running")
    lab.test(u1, "water-content", FAT_CLAY, state="planned")


def _quill_lane(lab: _Builder) -> None:
    project = lab.add(
        Project(name="Quill Lane water tower", client="parish works board", note="Raft on improved ground")
    )
    pit = lab.location(
        project, "P1", "test pit", 3.0, ((0.25, "topsoil"), (1.8, "sandy clay"), (3.0, "not yet tested"))
    )
    d1 = lab.sample(pit, "D1", "jar", 0.80, 0.90, 650, "sandy clay")
    d2 = lab.sample(pit, "D2", "jar", 2.20, 2.30, 700, "clay")
    lab.test(d1, "liquid-limit", SANDY_CLAY, settings={"school": "replicated"})
    lab.test(d1, "plastic-limit", SANDY_CLAY)
    spilled = lab.test(d1, "water-content", SANDY_CLAY, state="running")
    move(lab.session, spilled, "void", who="technician 2", reason="tin spilled between oven and balance")
    lab.test(d2, "water-content", LEAN_CLAY, state="planned")
    lab.test(d2, "liquid-limit", LEAN_CLAY, state="planned")
