"""Pressure and settlement, the same in logarithms, and the creep of each stage."""

import numpy as np

from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Series
from vadum.soil.methods.plate_incremental.capacity import Capacity
from vadum.soil.methods.plate_incremental.equations import creep_line
from vadum.soil.methods.plate_incremental.readings import Construction, PlateIncrementalSettings
from vadum.soil.methods.plate_incremental.stages import Stage, loading
from vadum.soil.physics.yielding import TwoLines


def settlement_figure(made: list[Stage], found: Capacity, settings: PlateIncrementalSettings) -> Figure:
    """Return settlement downward against pressure with the double tangent and its handles."""
    loaded = loading(made)
    reach = 1.08 * max([100.0, *(stage.pressure_kpa for stage in made)])
    deep = 1.1 * max([2.0, *(stage.last_mm for stage in made if stage.rows)])
    path = [(0.0, 0.0), *((stage.pressure_kpa, stage.last_mm) for stage in loaded)]
    lines = [Line(key="curve", points=path, arrow=True)] if loaded else []
    back = [stage for stage in made if stage.unloading and stage.rows]
    if back:
        lines.append(
            Line(
                key="rebound",
                label="rebound",
                role="company",
                points=[path[-1], *((s.pressure_kpa, s.last_mm) for s in back)],
                arrow=True,
            )
        )
    handles: list[Handle] = []
    result = None
    if found.straight is not None:
        two = found.straight
        lines += [
            _tangent("first", two, two.first, 0.0, reach, deep),
            _tangent("second", two, two.second, 0.0, reach, deep),
        ]
        handles = _handles(two, ("elastic_to_kpa", "yielding_from_kpa"), settings, reach)
        result = Mark(x=two.meet, y=two.at(two.first, two.meet), label=_band_words(two.meet, two.band))
    said = result.label if result else "Not yielding yet."
    return Figure(
        key="settlement",
        title="Pressure and settlement",
        description=f"Settlement against pressure, {len(loaded)} increments. Double tangent: {said}",
        caption=Construction.DOUBLE_TANGENT.label if result else "",
        x=Axis(label="pressure", unit="kPa", low=0.0, high=reach),
        y=Axis(label="settlement", unit="mm", low=0.0, high=deep, down=True),
        lines=lines,
        series=[
            Series(
                key="stages",
                label="stages",
                marks=[Mark(x=s.pressure_kpa, y=s.last_mm, path=f"rows.{s.rows[-1]}") for s in made if s.rows],
            )
        ],
        handles=handles,
        result=result,
    )


def logarithmic_figure(made: list[Stage], found: Capacity, settings: PlateIncrementalSettings) -> Figure:
    """Return settlement against pressure, both in logarithms, with two lines that meet at the yield."""
    loaded = [stage for stage in loading(made) if stage.last_mm > 0]
    p = [stage.pressure_kpa for stage in loaded] or [10.0, 1000.0]
    s = [stage.last_mm for stage in loaded] or [0.1, 10.0]
    low, high, top, deep = 0.8 * min(p), 1.3 * max(p), 0.7 * min(s), 1.5 * max(s)
    lines: list[Line] = []
    handles: list[Handle] = []
    result = None
    if found.logarithmic is not None:
        two = found.logarithmic
        for key, line in (("first", two.first), ("second", two.second)):
            points = [(10**x, 10 ** two.at(line, x)) for x in np.linspace(np.log10(low), np.log10(high), 30)]
            lines.append(Line(key=key, role="construction", points=[(a, b) for a, b in points if top <= b <= deep]))
        powers = TwoLines(two.first, two.second, two.meet, two.band, 10**two.first_to, 10**two.second_from)
        for setting, label, x, line in (
            ("log_elastic_to_kpa", "First line holds up to", powers.first_to, two.first),
            ("log_yielding_from_kpa", "Second line holds from", powers.second_from, two.second),
        ):
            y = float(np.clip(10 ** two.at(line, float(np.log10(x))), top, deep))
            handles.append(
                Handle(
                    setting=setting,
                    label=label,
                    x=x,
                    y=y,
                    along="x",
                    low=low,
                    high=high,
                    step=1,
                    overridden=getattr(settings, setting) is not None,
                )
            )
        meet = 10**two.meet
        result = Mark(
            x=meet, y=10 ** two.at(two.first, two.meet), label=_band_words(meet, (10 ** two.band[0], 10 ** two.band[1]))
        )
    return Figure(
        key="logarithms",
        title="In logarithms",
        description=(
            f"Settlement against pressure in logarithms, {len(loaded)} increments."
            f" {result.label if result else 'No two lines yet.'}"
        ),
        caption="two lines" if result else "",
        x=Axis(label="pressure", unit="kPa", scale="log", low=low, high=high),
        y=Axis(label="settlement", unit="mm", scale="log", low=top, high=deep, down=True),
        lines=lines,
        series=[
            Series(
                key="stages",
                label="stages",
                marks=[Mark(x=g.pressure_kpa, y=g.last_mm, path=f"rows.{g.rows[-1]}") for g in loaded],
            )
        ],
        handles=handles,
        result=result,
    )


def creep_figure(made: list[Stage], settings: PlateIncrementalSettings) -> Figure:
    """Return settlement against root time of each stage, the one in hand with where it is going."""
    read = [stage for stage in made if stage.rows]
    hand = read[-1] if read else None
    longest = max([9.0, *(stage.minutes[-1] for stage in read)])
    reach = longest * 1.3
    begin = {id(stage): read[i - 1].last_mm if i else 0.0 for i, stage in enumerate(read)}
    own = [s - begin[id(hand)] for s in hand.settlement_mm] if hand else []
    deep = 1.15 * max([0.2, *own, *(stage.last_mm - begin[id(stage)] for stage in read if not stage.unloading)])
    # A stage of unloading comes up again.
    risen = 1.15 * min([0.0, *own])
    lines = [
        Line(
            key=f"stage-{stage.first_row}",
            role="company",
            points=list(zip(stage.minutes, [s - begin[id(stage)] for s in stage.settlement_mm], strict=True)),
        )
        for stage in read[:-1]
        if len(stage.rows) > 1 and not stage.unloading
    ]
    caption = ""
    if hand is not None and len(hand.rows) > 1:
        lines.append(Line(key="hand", points=list(zip(hand.minutes, own, strict=True))))
        if (line := creep_line(hand.minutes, own)) is not None:
            ahead = np.linspace(hand.minutes[-1], reach, 20)
            lines.append(
                Line(
                    key="ahead",
                    role="construction",
                    points=[(float(t), line[0] + line[1] * float(np.log10(t))) for t in ahead if t > 0],
                )
            )
        rate = hand.rate_mm_min(settings.rate)
        decision = "go on" if hand.may_go_on(settings.rate, settings.least_hold_min) else "hold"
        caption = f"{hand.pressure_kpa:g} kPa · {rate:.3f} mm/min · {decision}" if rate is not None else ""
    return Figure(
        key="creep",
        title="Creep",
        description=f"Settlement of each stage against root time. {caption}",
        caption=caption,
        x=Axis(label="time in the stage", unit="min", scale="root-time", low=0.0, high=reach, ticks=_ticks(reach)),
        y=Axis(label="settlement of the stage", unit="mm", low=risen, high=deep, down=True),
        lines=lines,
        series=[
            Series(
                key="hand",
                label="stage in hand",
                marks=(
                    [Mark(x=t, y=s, path=f"rows.{i}") for t, s, i in zip(hand.minutes, own, hand.rows, strict=True)]
                    if hand
                    else []
                ),
            )
        ],
    )


def _tangent(key: str, two: TwoLines, line: tuple[float, float], low: float, high: float, deep: float) -> Line:
    """Return a line of the construction as far as it lies in the figure."""
    begin = max(low, -line[0] / line[1])
    end = min(high, (deep - line[0]) / line[1])
    return Line(key=key, role="construction", points=[(begin, two.at(line, begin)), (end, two.at(line, end))])


def _handles(two: TwoLines, names: tuple[str, str], settings: PlateIncrementalSettings, high: float) -> list[Handle]:
    places = (
        (names[0], "First line holds up to", two.first_to, two.first),
        (names[1], "Second line holds from", two.second_from, two.second),
    )
    return [
        Handle(
            setting=name,
            label=label,
            x=x,
            y=max(0.0, two.at(line, x)),
            along="x",
            low=0.0,
            high=high,
            step=1,
            overridden=getattr(settings, name) is not None,
        )
        for name, label, x, line in places
    ]


def _band_words(meet: float, band: tuple[float, float]) -> str:
    half = (band[1] - band[0]) / 2
    return f"{meet:.0f} kPa" + (f" ± {half:.0f}" if half >= 0.5 else "")


def _ticks(reach: float) -> list[float]:
    return [t for t in (1.0, 4.0, 9.0, 16.0, 25.0, 60.0, 120.0, 240.0, 480.0, 1440.0) if t <= reach]
