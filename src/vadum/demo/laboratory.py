"""Builds the demonstration laboratory: three invented projects, tests in every state, one overdue inspection."""

from pathlib import Path

from sqlmodel import col, select

from vadum.demo.bearing import bearing
from vadum.demo.builder import Builder
from vadum.demo.flood_bank import flood_bank
from vadum.demo.grading import grading_and_density
from vadum.demo.shearing import shearing
from vadum.demo.soaking import soaking
from vadum.demo.soils import FAT_CLAY, LEAN_CLAY, SANDY_CLAY, SILT
from vadum.demo.watering import watering
from vadum.records.database import open_database, session_on
from vadum.records.demonstration import declare_demonstration
from vadum.records.people import add_person, anybody
from vadum.records.saving import Change, save
from vadum.records.states import move
from vadum.records.tables import Project, Sample, Test
from vadum.soil.registry import METHODS


def build(path: Path) -> None:
    """Make the demonstration database at ``path``."""
    with session_on(open_database(path)) as session:
        declare_demonstration(session)
        lab = Builder(session)
        lab.laboratory()
        lab.inspection("Cup 1", 0)
        lab.inspection("Cup 2", 9)
        _harrow_mere(lab)
        _quill_lane(lab)
        grading_and_density(lab)
        bearing(lab)
        shearing(lab)
        watering(lab)
        flood_bank(lab)
        soaking(lab)
        _the_rest(lab)


def _the_rest(lab: Builder) -> None:
    """Add one virtual test of every method that no project above shows: a new method is shown from its first day."""
    shown = set(lab.session.exec(select(Test.method).distinct()).all())
    clay = lab.session.exec(select(Sample).where(Sample.name == "U2").order_by(col(Sample.id))).first()
    for method in METHODS.values():
        if method.code not in shown and clay is not None:
            place = clay if method.applies_to == "sample" else clay.location
            lab.test(place, method.code, method.a_soil(lab.rng), tools=())


def staff(path: Path) -> None:
    """Register one person for every role, who sign in by a click; nothing when somebody is registered."""
    with session_on(open_database(path)) as session:
        # Databases of earlier releases do not say yet what they are.
        declare_demonstration(session)
        if not anybody(session):
            for name, role in (
                ("manager", "manager"),
                ("technician 1", "technician"),
                ("technician 2", "technician"),
                ("checker", "checker"),
                ("reader", "reader"),
            ):
                add_person(session, name, role)


def _harrow_mere(lab: Builder) -> None:
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
    b3 = lab.sample(pit, "B3", "bag", 2.40, 2.70, 21000, "grey sandy clay")
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


def _quill_lane(lab: Builder) -> None:
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
