"""Adds records with readings of virtual soils to a laboratory."""

from datetime import timedelta
from typing import Any, TypeVar

import numpy as np
from sqlmodel import Session, SQLModel, select

from vadum.demo.soils import VANE
from vadum.records.changes import kept_readings, state_of
from vadum.records.letterhead import Letterhead, keep_letterhead, with_logo
from vadum.records.saving import pin, record, settle
from vadum.records.states import move
from vadum.records.tables import Calibration, Equipment, Location, Project, Revision, Sample, Stratum, Test, now
from vadum.records.times import note_times
from vadum.soil.contract.equipment import needed
from vadum.soil.registry import method as method_of
from vadum.soil.virtual.plunger_soil import ring_for

SEED = 2611
# Three layers and a sample taken from the middle one.
_LOGO = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 32" width="48" height="32">'
    b'<g fill="none" stroke="#1d2b31" stroke-width="3">'
    b'<path d="M2 6q11-5 22 0t22 0M2 26q11-5 22 0t22 0"/>'
    b'<path stroke-dasharray="2 4" d="M2 16h44"/>'
    b"</g>"
    b'<rect x="18" y="9" width="12" height="14" fill="#b24a20"/>'
    b"</svg>"
)


Row = TypeVar("Row", bound=SQLModel)


# One piece of each kind that a test may be made with, beside those that have constants of their own.
_BENCH = (
    ("Gauge 7", "gauge", "25 mm", 0.01),
    ("Ring 50", "load ring", "50 kN, read in kN", None),
    ("Pressure gauge 2", "pressure gauge", "10 bar", None),
    ("Thermometer 3", "thermometer", "0 to 50 °C", 0.1),
    ("Press 1", "press", "50 kN", None),
    ("Mould 4", "mould", "1 L", None),
    ("Rammer 1", "rammer", "2.5 kg, 305 mm", None),
    ("Sieves A", "sieve", "63 mm to 0.063 mm", None),
    ("Cell 1", "triaxial cell", "38 and 50 mm", None),
    ("Box 2", "shear box", "60 mm", None),
    ("Plate 300", "plate", "300 mm", None),
    ("Drop plate 1", "drop plate", "300 mm, 10 kg", None),
    ("Cone 80", "cone", "80 g, 30°", None),
    ("Cone 8 kg", "dynamic cone", "60°, 20 mm", None),
    ("Gauge N1", "density gauge", "moisture and density", None),
    ("Hydrometer 2", "hydrometer", "0.995 to 1.030", None),
    ("Cylinder 1", "cylinder", "1 L", None),
    ("Ring 100", "ring", "100 cm³", None),
    ("Permeameter 1", "permeameter", "two chambers", None),
    ("Meter 1", "pH meter", "glass electrode", 0.01),
)


class Builder:
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
        head = Letterhead(name="Sedgemill Soils Laboratory", address="Kiln Yard 4\nSedgemill\nanswers within a day")
        keep_letterhead(self.session, with_logo(head, _LOGO))
        for name, kind, note, resolution in (
            ("Balance 2", "balance", "310 g", 0.01),
            ("Balance 5", "balance", "6 kg", 0.1),
            ("Oven 1", "oven", "110 °C, 4 shelves", None),
            ("Oven 3", "oven", "60 °C", None),
            ("Tool 1", "grooving tool", "flat, 2.0 mm tip", None),
            *_BENCH,
        ):
            self.equipment[name] = self.add(Equipment(name=name, kind=kind, note=note, resolution=resolution))
        self.equipment["Ring 20"] = self.add(
            Equipment(name="Ring 20", kind="load ring", note="20 kN", calibration=ring_for(16.0))
        )
        self.equipment["Vane 65"] = self.add(
            Equipment(name="Vane 65", kind="vane", note="with spring balance 3", constants=VANE)
        )
        for name in ("Cup 1", "Cup 2"):
            self.equipment[name] = self.add(
                Equipment(name=name, kind="cup", inspect_every_days=1, note="brass, hard base")
            )
        today = now().date()
        for name, made, due, expanded in (
            ("Balance 2", 100, 265, 0.02),
            ("Balance 5", 100, 265, 0.2),
            ("Ring 20", 60, 305, None),
            ("Oven 3", 375, -10, None),
            ("Ring 50", 60, 305, None),
            ("Gauge 7", 60, 305, None),
            ("Pressure gauge 2", 60, 305, None),
            ("Thermometer 3", 200, 530, None),
        ):
            piece = self.equipment[name]
            self.add(
                Calibration(
                    equipment_id=piece.id or 0,
                    on=today - timedelta(days=made),
                    due=today + timedelta(days=due),
                    table=piece.calibration,
                    uncertainty=expanded,
                    certificate_number=f"K-{piece.id or 0:03d}/26",
                    note="accredited laboratory",
                    who="manager",
                )
            )
        for number in range(1, 61):
            tare = round(float(self.rng.uniform(16.6, 18.4)), 2)
            self.session.add(Equipment(name=f"T-{number:02d}", kind="tin", tare_g=tare))
        for name, tare in (("S-1", 17.21), ("S-2", 17.64)):
            self.session.add(Equipment(name=name, kind="tin", note="of soaked moulds", tare_g=tare))
        self.session.commit()

    def inspection(self, cup: str, days_ago: float) -> None:
        test = self.add(Test(method="cup-inspection", equipment_id=self.equipment[cup].id))
        chosen = method_of(test.method)
        readings = chosen.virtual(None, chosen.Settings(), self.rng)
        self._record_readings(test, readings.model_dump(mode="json", exclude_none=True))
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
        self,
        place: Location,
        name: str,
        kind: str,
        top_m: float,
        base_m: float,
        mass_g: float,
        description: str,
        largest_particle_mm: float = 2.0,
    ) -> Sample:
        return self.add(
            Sample(
                location_id=place.id or 0,
                name=name,
                kind=kind,
                top_m=top_m,
                base_m=base_m,
                mass_g=mass_g,
                largest_particle_mm=largest_particle_mm,
                description=description,
            )
        )

    def place(self, name: str) -> Location:
        """Return the location of a name."""
        return self.session.exec(select(Location).where(Location.name == name)).one()

    def test(
        self,
        place: Sample | Location,
        method: str,
        soil: Any,
        *,
        state: str = "reduced",
        settings: dict[str, Any] | None = None,
        mistakes: frozenset[str] = frozenset(),
        cup: str = "Cup 1",
        tools: tuple[str, ...] = ("Balance 2", "Oven 1"),
        rows: int | None = None,
        keep_plan: bool = False,
        drop: tuple[str, ...] = (),
        blank: tuple[str, ...] = (),
    ) -> Test:
        """Add a test of a virtual soil; without a soil it leans on the sample's other tests alone.

        ``rows`` keeps only the first rows, as in a test under way, and ``keep_plan`` what was due in the others;
        ``drop`` are single readings that the sample's own tests supply, ``blank`` columns not written yet.
        """
        chosen = method_of(method)
        of_sample = isinstance(place, Sample)
        test = Test(
            method=method,
            sample_id=place.id if of_sample else None,
            location_id=None if of_sample else place.id,
            settings=settings or {},
        )
        names = (*tools, *((cup, "Tool 1") if method == "liquid-limit" else ()))
        test.uses = [self.equipment[name] for name in names]
        self.add(test)
        if state == "planned":
            test.kept = chosen.begin(chosen.Settings(), None) if chosen.clocked and method != "hydrometer" else {}
            return self.add(test)
        readings = chosen.Readings()
        if soil is not None:
            readings = chosen.virtual(soil, chosen.Settings.model_validate(settings or {}), self.rng, mistakes)
        plain = readings.model_dump(mode="json", exclude_none=True, exclude=set(drop))
        for line in (line for lines in plain.values() if isinstance(lines, list) for line in lines):
            for column in blank:
                line.pop(column, None)
        under_way = _under_way(plain, rows, keep_plan)
        self._name_the_rest(test, under_way)
        self._record_readings(test, under_way)
        if state in ("reduced", "checked"):
            move(self.session, test, "done", who="technician 1")
        if state == "checked":
            move(self.session, test, "check", who="checker")
        return test

    def _name_the_rest(self, test: Test, readings: dict[str, Any]) -> None:
        """Name a piece of each kind of equipment that the test is made with and that nobody named yet."""
        chosen = method_of(test.method)
        named = {piece.kind for piece in test.uses}
        plain = [piece for piece in self.equipment.values() if not piece.constants and not piece.calibration]
        bench = {piece.kind: piece for piece in reversed(plain)}
        wanted = needed(chosen, readings, chosen.Settings.model_validate(test.settings))
        test.uses = [*test.uses, *(bench[kind] for kind in wanted if kind in bench and kind not in named)]

    def _record_readings(self, test: Test, plain: dict[str, Any]) -> None:
        for table, lines in plain.items():
            if isinstance(lines, list):
                plain[table] = [self._registered(line) for line in lines if line]
        before = state_of(test)
        test.kept, test.state = kept_readings(self.session, plain), "running"
        pin(test)
        record(self.session, test, before, who="technician 1", what="readings = as measured")
        settle(self.session, test)
        note_times(self.session, test, "technician 1")
        self.session.commit()

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


def _under_way(plain: dict[str, Any], rows: int | None, keep_plan: bool) -> dict[str, Any]:
    """Return readings cut off after so many rows; a plan keeps when the others fall due and what came before."""
    if rows is None:
        return plain
    for table, lines in plain.items():
        if isinstance(lines, list) and not (keep_plan and table not in ("sedimentation", "stages")):
            for line in lines[rows:]:
                kept = {k: v for k, v in line.items() if k in ("due_min", "opening_mm", "planned_kpa")}
                line.clear()
                line.update(kept)
    return plain
