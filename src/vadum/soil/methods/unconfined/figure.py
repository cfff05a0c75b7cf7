"""Stress against strain with the peak's handle and the strain limit."""

from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Series
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.unconfined.readings import UnconfinedReadings, UnconfinedSettings
from vadum.soil.numbers.thinning import faithful
from vadum.soil.physics import compression as cp

_MOST_MARKED = 60


def stress_figure(
    readings: UnconfinedReadings, settings: UnconfinedSettings, curve: cp.Curve | None, result: Reduction
) -> Figure:
    """Return the curve as it stands, thinned for drawing only."""
    qu, strain = result.parameter("qu"), result.parameter("strain_percent")
    reach, top = settings.limit_percent + 1.0, 100.0
    lines, series, handles, mark = [], [], [], None
    if curve is not None:
        reach = max(reach, 1.05 * float(curve.strain_percent[-1]))
        top = 1.15 * max(10.0, float(curve.stress_kpa.max()))
        kept = faithful(curve.strain_percent, curve.stress_kpa)
        points = list(zip(curve.strain_percent[kept].tolist(), curve.stress_kpa[kept].tolist(), strict=True))
        lines.append(Line(key="curve", points=points))
        if curve.start_percent > 0:
            lines.append(
                Line(
                    key="start",
                    role="construction",
                    points=[(curve.start_percent, 0.0), (curve.start_percent, 0.3 * top)],
                )
            )
        if readings.log is None and len(readings.loading) <= _MOST_MARKED:
            marks = [
                Mark(x=float(x), y=float(y), path=f"loading.{i}", left_out=not row.used)
                for i, row in enumerate(readings.loading)
                if (x := result.computed.get(f"loading.{i}.strain_percent")) is not None
                and (y := result.computed.get(f"loading.{i}.stress_kpa")) is not None
            ]
            series.append(Series(key="loading", label="loading", marks=marks))
    lines.append(
        Line(
            key="limit",
            role="reference",
            label=f"{settings.limit_percent:g} %",
            points=[(settings.limit_percent, 0.0), (settings.limit_percent, top)],
        )
    )
    if (
        qu is not None
        and strain is not None
        and curve is not None
        and qu.value is not None
        and strain.value is not None
    ):
        x = strain.value + curve.start_percent
        lines.append(Line(key="peak", role="construction", points=[(0.0, qu.value), (x, qu.value), (x, 0.0)]))
        mark = Mark(x=x, y=qu.value, label=f"qu {qu.text} kPa at {strain.text} %")
        handles.append(
            Handle(
                setting="peak_percent",
                label="Peak",
                x=x,
                y=qu.value,
                along="x",
                low=0.0,
                high=reach,
                step=0.1,
                overridden=settings.peak_percent is not None,
            )
        )
    return Figure(
        key="stress-strain",
        title="Stress and strain",
        description=f"Axial stress against strain. {mark.label if mark else 'No strength yet.'}",
        x=Axis(label="axial strain", unit="%", low=0.0, high=reach),
        y=Axis(label="axial stress", unit="kPa", low=0.0, high=top),
        lines=lines,
        series=series,
        handles=handles,
        result=mark,
    )
