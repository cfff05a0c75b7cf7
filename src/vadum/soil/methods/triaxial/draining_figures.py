"""Consolidation against root time and against log time, with the constructions drawn."""

from math import log10

import numpy as np

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.methods.triaxial.draining import Drained
from vadum.soil.physics.consolidation import LogTime, RootTime

# Where the straight beginning is drawn, as shares of the time to full consolidation.
_EARLY = np.linspace(0.02, 1.0, 20)
_TICKS = (1.0, 4.0, 16.0, 60.0, 240.0, 1440.0)


def root_figure(made: list[Drained]) -> Figure:
    """Return water out against root time with the straight beginning drawn to the final level."""
    reach = _reach(made)
    lines = [line for one in made if one.root for line in [_root_line(one.number, one.root, reach)]]
    marks = [
        Mark(x=r.t90_min, y=one.out_at(r.t90_min), label=f"t90 {one.number}")
        for one in made
        if (r := one.root) and r.t90_min
    ]
    return _figure(
        "consolidation",
        "Consolidation, √t",
        made,
        lines,
        marks,
        Axis(label="time", unit="min", scale="root-time", low=0.0, high=reach, ticks=[t for t in _TICKS if t <= reach]),
        [f"{one.number}: t100 {one.root.t100_min:.0f} min" for one in made if one.root],
    )


def log_figure(made: list[Drained]) -> Figure:
    """Return water out against log time with the steepest line and the tail meeting at full consolidation."""
    reach = _reach(made)
    lines = [line for one in made if one.log for line in _log_lines(one.number, one.log, reach)]
    marks = [Mark(x=g.t50_min, y=(g.start + g.end) / 2, label=f"t50 {one.number}") for one in made if (g := one.log)]
    return _figure(
        "consolidation-log",
        "Consolidation, log t",
        made,
        lines,
        marks,
        Axis(label="time", unit="min", scale="log", low=0.1, high=reach),
        [f"{one.number}: t50 {one.log.t50_min:.1f} min" for one in made if one.log],
    )


def _figure(
    key: str, title: str, made: list[Drained], lines: list[Line], found: list[Mark], axis: Axis, said: list[str]
) -> Figure:
    deep = 1.15 * max([1.0, *(v for one in made for _, v in one.points)])
    inside = {one.number: [(t, v) for t, v in one.points if t >= axis.low] for one in made}
    return Figure(
        key=key,
        title=title,
        description=f"Water out against time. {'; '.join(f'specimen {words}' for words in said)}",
        caption="; ".join(said),
        x=axis,
        y=Axis(label="water out", unit="cm³", low=0.0, high=deep, down=True),
        lines=[Line(key=f"specimen-{k}", points=points) for k, points in inside.items()] + lines,
        series=[
            *(
                Series(key=f"marks-{k}", label=f"specimen {k}", marks=[Mark(x=t, y=v) for t, v in points])
                for k, points in inside.items()
            ),
            Series(key="found", label="read off", role="company", marks=found),
        ],
    )


def _reach(made: list[Drained]) -> float:
    return 1.05 * max([60.0, *(t for one in made for t, _ in one.points)])


def _root_line(number: int, root: RootTime, reach: float) -> Line:
    level, slope = root.line
    minutes = _EARLY * root.t100_min
    early = zip(minutes.tolist(), (level + slope * np.sqrt(minutes)).tolist(), strict=True)
    return Line(key=f"root-{number}", role="construction", points=[(0.0, max(0.0, level)), *early, (reach, root.final)])


def _log_lines(number: int, built: LogTime, reach: float) -> list[Line]:
    (a, b), (c, d) = built.steepest, built.tail
    begins = 10 ** ((built.start - a) / b)
    return [
        Line(key=f"start-{number}", role="reference", points=[(0.1, built.start), (begins, built.start)]),
        Line(
            key=f"log-{number}",
            role="construction",
            points=[(begins, built.start), (built.t100_min, built.end), (reach, c + d * log10(reach))],
        ),
    ]
