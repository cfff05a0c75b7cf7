"""Heads by time with the fitted model, what is left between them, and the plan of the places."""

from typing import Any

import numpy as np

from vadum.soil.bench.position import Position
from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series, SeriesRole
from vadum.soil.methods.falling_head.cylinders import Place
from vadum.soil.methods.falling_head.readings import FallingHeadReadings
from vadum.soil.numbers.thinning import faithful
from vadum.soil.site.map import Sited, plan_figure

_MOST_MARKED = 60


def head_figure(made: list[Place], least_start_mm: float) -> Figure:
    """Return all heads against time, each with its fitted model."""
    reach = 1.05 * max([10.0, *(float(p.minutes[-1]) for p in made)])
    top = 1.08 * max([least_start_mm, *(float(p.head_mm.max()) for p in made)])
    lines, series = [], []
    for p in made:
        if p.fit is not None and p.cylinder is not None:
            begun = float(p.minutes[p.fit.used][0])
            at = begun + (reach - begun) * np.linspace(0, 1, 120) ** 2
            model = p.cylinder.head_after(p.fit.ks_mm_min * at + p.fit.start_mm, p.fit.suction_mm)
            lines.append(Line(key=f"model-{p.number}", label=f"{p.number}", points=_points(at, model)))
        if (p.rows >= 0).all() and len(p.rows) <= _MOST_MARKED:
            used = p.fit.used if p.fit is not None else np.ones(len(p.rows), dtype=bool)
            drawn: tuple[tuple[SeriesRole, Any], ...] = (("subject", used), ("company", ~used))
            for role, chosen in drawn:
                marks = [
                    Mark(x=float(t), y=float(h), path=f"heads.{row}")
                    for t, h, row in zip(p.minutes[chosen], p.head_mm[chosen], p.rows[chosen], strict=True)
                ]
                name = f"cylinder {p.number}" + ("" if role == "subject" else ", front inside")
                series.append(Series(key=f"{role}-{p.number}", label=name, marks=marks, role=role))
        else:
            kept = faithful(p.minutes, p.head_mm)
            lines.append(Line(key=f"log-{p.number}", role="company", points=_points(p.minutes[kept], p.head_mm[kept])))
    said = "; ".join(f"{p.number}: Ks {p.ks_20_mm_h:.3g} mm/h" for p in made if p.ks_20_mm_h is not None)
    return Figure(
        key="heads",
        title="Head and time",
        description=f"Head against time in {len(made)} cylinders. {said or 'No fit yet.'}",
        caption=said,
        x=Axis(label="time", unit="min", low=0.0, high=reach),
        y=Axis(label="head", unit="mm", low=0.0, high=top),
        lines=lines,
        series=series,
    )


def residual_figure(made: list[Place]) -> Figure:
    """Return readings less model against time: what the model does not explain."""
    fitted = [p for p in made if p.fit is not None]
    reach = 1.05 * max([10.0, *(float(p.minutes[-1]) for p in made)])
    most = 1.2 * max([2.0, *(float(np.nanmax(np.abs(p.fit.residuals_mm))) for p in fitted if p.fit)])
    lines = [Line(key="level", role="reference", points=[(0.0, 0.0), (reach, 0.0)])]
    for p in fitted:
        if p.fit is not None:
            minutes, rest = p.minutes[p.fit.used], p.fit.residuals_mm[p.fit.used]
            kept = faithful(minutes, rest)
            lines.append(Line(key=f"rest-{p.number}", label=f"{p.number}", points=_points(minutes[kept], rest[kept])))
    return Figure(
        key="residuals",
        title="Residuals",
        description="Head read less head of the model, of readings with the front outside the cylinder.",
        x=Axis(label="time", unit="min", low=0.0, high=reach),
        y=Axis(label="read less model", unit="mm", low=-most, high=most),
        lines=lines,
    )


def site_figure(readings: FallingHeadReadings, made: list[Place]) -> Figure | None:
    """Return the plan of the places with their conductivities; None while fewer than two are placed."""
    sited = []
    for p in made:
        row = readings.cylinders[p.number - 1] if p.number <= len(readings.cylinders) else None
        if row is not None and row.latitude_deg is not None and row.longitude_deg is not None:
            words = f"{p.number}: {p.ks_20_mm_h:.3g} mm/h" if p.ks_20_mm_h is not None else f"{p.number}"
            sited.append(Sited(Position(row.latitude_deg, row.longitude_deg), words, f"cylinders.{p.number - 1}"))
    return plan_figure(sited) if len(sited) > 1 else None


def _points(x: np.ndarray, y: np.ndarray) -> list[tuple[float, float]]:
    return list(zip(np.asarray(x).tolist(), np.asarray(y).tolist(), strict=True))
