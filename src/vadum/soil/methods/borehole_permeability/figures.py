"""Head by time on a logarithmic scale, with each run's line."""

from math import exp

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series, end_beyond
from vadum.soil.methods.borehole_permeability.runs import Run


def head_figure(made: list[Run]) -> Figure:
    """Return the share of the first head that is left by time; a straight line has one permeability."""
    reach = end_beyond(max([10.0, *(float(run.fill.minutes.max()) for run in made)]))
    lines = [Line(key="lag", role="reference", label="0.37", points=[(0.0, 0.368), (reach, 0.368)])]
    series, said, least = [], [], 0.1
    for run in made:
        first, number = float(run.head_m[0]), run.fill.number
        if first <= 0:
            continue
        marks = [
            Mark(x=t, y=head / first, path=f"levels.{row}")
            for t, head, row in zip(run.fill.minutes.tolist(), run.head_m.tolist(), run.fill.rows, strict=True)
            if head > 0
        ]
        least = min([least, *(m.y for m in marks)])
        series.append(Series(key=f"run-{number}", label=f"run {number}", marks=marks))
        if run.slope_per_min:
            end = float(run.fill.minutes[run.used][-1])
            ends = [(t, exp(run.intercept - run.slope_per_min * t) / first) for t in (0.0, end)]
            lines.append(Line(key=f"line-{number}", role="construction", label=f"run {number}", points=ends))
        if run.lag_min is not None:
            said.append(f"run {number}: T {run.lag_min:.3g} min")
    words = "; ".join(said) or "no run has come down to 0.37 yet"
    return Figure(
        key="heads",
        title="Head",
        description=f"Share of the first head that is left by time, logarithmic. {words}.",
        caption=words,
        x=Axis(label="time", unit="min", low=0.0, high=reach),
        y=Axis(label="H/H0", scale="log", low=max(0.01, 0.8 * least), high=1.2),
        lines=lines,
        series=series,
    )
