"""The demonstration laboratory's grading, density, compaction and classes."""

from datetime import timedelta
from typing import Any

from sqlmodel import col, select

from vadum.demo.builder import Builder
from vadum.demo.soils import (
    CLAY_FILL,
    FAT_CLAY_GRAINS,
    FILL,
    GRAVELLY_SAND_GRAINS,
    IN_PLACE_CLAY,
    IN_PLACE_FILL,
    SANDY_CLAY,
    SANDY_CLAY_GRAINS,
    SILT_GRAINS,
    SILTY_SAND_GRAINS,
)
from vadum.records.saving import Change, save
from vadum.records.tables import Project, Sample, now
from vadum.soil.virtual.grain_soil import GrainSoil


def grading_and_density(lab: Builder) -> None:
    """Add what the grading, density and compaction methods find in the two projects."""
    bypass = lab.session.exec(select(Project).where(col(Project.name).startswith("Harrow"))).one()
    pit = lab.place("TP4")
    _, u2, b3, b4 = pit.samples
    u1 = lab.place("BH2").samples[0]
    _identity(lab, b3)
    lab.test(b4, "sieve", SILT_GRAINS)
    lab.test(b4, "classification", None, state="running")
    lab.test(u2, "ring-density", IN_PLACE_CLAY, tools=("Balance 5", "Oven 1"))
    _cylinders(lab, (u1, FAT_CLAY_GRAINS, 9.0), (u2, SANDY_CLAY_GRAINS, 4.0), (b4, SILT_GRAINS, None))
    borrow = lab.location(
        bypass, "BP1", "test pit", 3.6, ((0.3, "topsoil"), (2.0, "gravelly sand"), (3.6, "silty sand"))
    )
    g1 = lab.sample(borrow, "G1", "bag", 0.90, 1.40, 62000, "gravelly sand, brown", largest_particle_mm=19.0)
    g2 = lab.sample(borrow, "G2", "bag", 2.40, 2.80, 9000, "silty sand, grey", largest_particle_mm=9.5)
    lab.test(g1, "sieve", GRAVELLY_SAND_GRAINS, state="checked", tools=("Balance 5", "Oven 1"))
    lab.test(g1, "compaction", FILL, tools=("Balance 5", "Oven 1"))
    lab.test(g1, "excavation-density", IN_PLACE_FILL, tools=("Balance 5", "Oven 1"))
    lab.test(g1, "classification", None, state="running")
    lab.test(
        g2,
        "sieve",
        SILTY_SAND_GRAINS,
        state="running",
        mistakes=frozenset({"overloaded"}),
        rows=6,
        drop=("mass_pan_g",),
    )
    lab.test(
        b3, "compaction", CLAY_FILL, state="running", mistakes=frozenset({"erratic"}), tools=("Balance 5", "Oven 1")
    )
    lab.test(lab.place("P1").samples[0], "classification", None, state="running")
    lab.test(b3, "water-content", SANDY_CLAY, state="running", blank=("mass_tin_dry_g", "drying_h"))


def _identity(lab: Builder, sample: Sample) -> None:
    """Give a sample everything its identity card can hold."""
    lab.test(sample, "particle-density", SANDY_CLAY_GRAINS, state="checked")
    lab.test(sample, "sieve", SANDY_CLAY_GRAINS, tools=("Balance 5", "Oven 1"))
    lab.test(sample, "hydrometer", SANDY_CLAY_GRAINS, drop=("particle_density", "passing_percent"))
    lab.test(sample, "classification", None, state="reduced")


def _cylinders(lab: Builder, *held: tuple[Sample, GrainSoil, float | None]) -> None:
    """Set down cylinders: under way for some minutes, or waiting with their dispersant read."""
    for sample, soil, minutes in held:
        test = lab.test(
            sample, "hydrometer", soil, state="running", rows=0 if minutes is None else _taken(minutes), keep_plan=True
        )
        if minutes is not None:
            cells: dict[str, Any] = {"started_at": (now() - timedelta(minutes=minutes)).isoformat()}
            save(lab.session, test, Change(base_revision=test.revision, who="technician 1", cells=cells))


def _taken(minutes: float) -> int:
    return sum(1 for due in (1, 2, 4, 8) if due < minutes)
