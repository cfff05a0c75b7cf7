"""The force-penetration figure: readings, tangent with its handle, moved origin, the depths at which it is read."""

import numpy as np

from vadum.soil.bench.plunger.readings import BearingSettings, PenetrationRow
from vadum.soil.bench.plunger.run import Run
from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Series
from vadum.soil.physics import bearing as eq
from vadum.soil.physics.bearing import School


def run_figure(
    run: Run, company: list[Run], school: School, setting: str, drawn_rows: list[tuple[int, float, float, bool]]
) -> Figure:
    """Return force against penetration of one run, others as quiet company.

    Arguments
    ---------
    setting : the setting the tangent's handle writes
    drawn_rows : row, penetration in mm, force in kN and whether it is left out, of every reading
    """
    forces = [f for _, _, f, _ in drawn_rows] + [float(f) for other in company for f in other.force_kn]
    reach = max(8.0, 0.5 + max([x for _, x, _, _ in drawn_rows], default=0.0))
    top = _round_up(1.12 * max(forces, default=1.0))
    lines = [
        Line(key=f"company-{other.table}", label=other.label.lower(), role="company", points=other.drawn_through)
        for other in company
        if len(other.rows) > 1
    ]
    if len(run.rows) > 1:
        lines.append(Line(key="curve", points=run.drawn_through))
    handles = []
    zero = run.zero_mm
    if run.tangent is not None:
        lines.append(_tangent_line(run.tangent, top, reach))
        at = run.tangent.at_mm
        grip = min(max(run.tangent.force_at(at), 0.0), top)
        handles.append(
            Handle(
                setting=setting,
                label="Tangent touches at",
                x=at,
                y=grip,
                along="x",
                low=0.25,
                high=max(0.5, run.reached_mm),
                step=0.05,
                overridden=run.by_hand,
            )
        )
    for ratio in run.ratios:
        if ratio is not None:
            depth, force, _ = ratio
            lines.append(
                Line(
                    key=f"at-{depth:g}",
                    role="construction",
                    points=[(depth + zero, 0.0), (depth + zero, force), (0.0, force)],
                )
            )
    best = run.governing
    result = Mark(x=best[0] + zero, y=best[1], label=f"{best[2]:.1f} % at {best[0]:g} mm") if best else None
    moved = f"origin moved {zero:.2f} mm" if zero else "origin not moved"
    return Figure(
        key=f"run-{run.table}",
        title=run.label,
        description=f"Force against penetration, {len(run.rows)} readings, {moved}. "
        + ("; ".join(f"{r[2]:.1f} % at {r[0]:g} mm" for r in run.ratios if r) or "No ratio yet."),
        caption=moved if run.tangent else "",
        x=Axis(
            label="penetration",
            unit="mm",
            low=0.0,
            high=reach,
            named=[(depth + zero, f"{depth:g} mm") for depth, _ in eq.STANDARD_FORCE_KN[school]],
        ),
        y=Axis(label="force", unit="kN", low=0.0, high=top),
        lines=lines,
        series=[
            Series(
                key="readings",
                label=run.label,
                marks=[Mark(x=x, y=f, path=f"{run.table}.{i}", left_out=out) for i, x, f, out in drawn_rows],
            )
        ],
        handles=handles,
        result=result,
    )


def _tangent_line(tangent: eq.Tangent, top: float, reach: float) -> Line:
    end = min(reach, tangent.zero_mm + 0.92 * top / tangent.slope_kn_mm)
    begin = max(0.0, tangent.zero_mm)
    return Line(
        key="tangent", role="construction", points=[(begin, tangent.force_at(begin)), (end, tangent.force_at(end))]
    )


def _round_up(value: float) -> float:
    """Return the next value a ruled axis would end at."""
    if value <= 0:
        return 1.0
    power = 10.0 ** np.floor(np.log10(value))
    return float(next(step * power for step in (1, 1.5, 2, 3, 4, 5, 6, 8, 10) if step * power >= value))


def drawn(
    rows: list[PenetrationRow], ring: list[tuple[float, float]] | None, settings: BearingSettings
) -> list[tuple[int, float, float, bool]]:
    """Return every reading that can be drawn: row, penetration, force, left out."""
    if ring is None:
        return []
    read = [
        (i, r.penetration_mm, said, r.used)
        for i, r in enumerate(rows)
        if r.penetration_mm is not None and (said := r.force_by(settings)) is not None
    ]
    forces = eq.ring_force_kn([said for _, _, said, _ in read], ring)
    return [(i, x, float(f), not used) for (i, x, _, used), f in zip(read, forces, strict=True) if np.isfinite(f)]
