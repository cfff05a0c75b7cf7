"""One sample whose tests lean on one another, every one of them a virtual soil's."""

import shutil

import numpy as np
from sqlmodel import Session, select

from vadum.demo.builder import Builder
from vadum.demo.soils import LEAN_CLAY
from vadum.records.database import open_database
from vadum.records.saving import Change, save
from vadum.records.states import move
from vadum.records.tables import Equipment, Project, Test
from vadum.soil.registry import method as method_of

TECHNICIAN, SECOND, CHECKER, MANAGER = "technician 1", "technician 2", "checker", "manager"
LEANING = ("water-content", "liquid-limit", "plastic-limit", "sieve", "classification")


def build(path):
    """Make a laboratory with one sample and its tests, all done."""
    with Session(open_database(path)) as session:
        lab = Builder(session)
        lab.laboratory()
        lab.inspection("Cup 1", 0)
        project = lab.add(Project(name="Mill race"))
        pit = lab.location(project, "TP1", "test pit", 3.0, ((0.4, "topsoil"), (3.0, "clay")))
        sample = lab.sample(pit, "B1", "bag", 1.0, 1.3, 9000, "brown clay")
        for method in ("water-content", "liquid-limit", "plastic-limit"):
            lab.test(sample, method, LEAN_CLAY)
        sieve = lab.test(sample, "sieve", None, state="planned")
        sieved(session, sieve)
        lab.test(sample, "classification", None)


def sieved(session, test):
    """Enter a grading and finish it."""
    method = method_of("sieve")
    rng = np.random.default_rng(5)
    readings = method.virtual(method.a_soil(rng), method.Settings.model_validate(test.settings), rng)
    plain = readings.model_dump(mode="json", exclude_none=True)
    cells = {k: str(v) for k, v in plain.items() if not isinstance(v, list)}
    for table, rows in plain.items():
        if isinstance(rows, list):
            cells |= {f"{table}.{i}.{k}": str(v) for i, row in enumerate(rows) for k, v in row.items()}
    save(session, test, Change(test.revision, TECHNICIAN, cells=cells))
    move(session, test, "done", who=TECHNICIAN)


def copy_of(path, folder):
    target = folder / "lab.sqlite"
    for suffix in ("", "-wal"):
        source = path.with_name(path.name + suffix)
        if source.exists():
            shutil.copy(source, f"{target}{suffix}")
    return target


def the(session, method):
    """Return the newest test of a method that is not void."""
    query = select(Test).where(Test.method == method, Test.state != "void").order_by(Test.id.desc())
    return session.exec(query).first()


def typed(session, test, who=SECOND, **cells):
    """Save cells, named with two underscores for a point."""
    return save(session, test, Change(test.revision, who, cells={k.replace("__", "."): v for k, v in cells.items()}))


_FIRST = {"water-content": "determinations", "liquid-limit": "trials", "plastic-limit": "threads"}


def heavier(session, test, by=-0.15, who=SECOND):
    """Change the dry mass of every tin alike, and with it the result."""
    table = _FIRST[test.method]
    rows = test.readings[table]
    name = next(key for key in rows[0] if key.endswith("dry_g"))
    cells = {f"{table}.{i}.{name}": f"{row[name] + by:.2f}" for i, row in enumerate(rows) if row.get(name)}
    return save(session, test, Change(test.revision, who, cells=cells))


def equipment(session, name):
    return session.exec(select(Equipment).where(Equipment.name == name)).one()
