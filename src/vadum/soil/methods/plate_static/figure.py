"""The pressure-settlement figure of a plate loaded twice."""

import numpy as np

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.methods.plate_static.branches import Branches, Spot
from vadum.soil.methods.plate_static.moduli import Loading
from vadum.soil.methods.plate_static.readings import PlateStaticSettings


def plate_figure(made: Branches, first: Loading, second: Loading, settings: PlateStaticSettings) -> Figure:
    """Return settlement downward against pressure, with both fitted curves, arrows and the secants' points."""
    largest = made.largest_kpa
    reach = 1.06 * max([settings.last_kpa, *(p for _, p, _ in made.every)])
    deep = 1.12 * max([1.0, *(s for _, _, s in made.every)])
    lines: list[Line] = []
    for loading, key in ((first, "first"), (second, "second")):
        if loading.curve is not None:
            low = min(p for p, _ in loading.points)
            sigma = np.linspace(low, max(largest, low + 1), 50)
            lines.append(
                Line(
                    key=key,
                    label=f"{key} loading",
                    points=[(float(p), loading.at(float(p))) for p in sigma],
                    arrow=True,
                )
            )
        if loading.secant_points is not None:
            lines.append(Line(key=f"secant-{key}", role="construction", points=list(loading.secant_points)))
    if made.back:
        top = [(p, s) for _, p, s in made.first[-1:]]
        lines.append(
            Line(
                key="back",
                label="unloading",
                role="company",
                points=top + [(p, s) for _, p, s in made.back],
                arrow=True,
            )
        )
    said = "; ".join(
        f"{name} loading {loading.quadratic:.1f} MPa"
        for loading, name in ((first, "first"), (second, "second"))
        if loading.quadratic
    )
    return Figure(
        key="plate",
        title="Pressure and settlement",
        description=(
            f"Settlement against pressure, {len(made.first)} stages of first loading, {len(made.back)} of unloading,"
            f" {len(made.second)} of second loading. {said or 'No modulus yet.'}"
        ),
        caption=said,
        x=Axis(
            label="pressure",
            unit="kPa",
            low=0.0,
            high=reach,
            named=[(share * largest, f"{share:g} σmax") for share in (0.3, 0.7)] if largest else [],
        ),
        y=Axis(label="settlement", unit="mm", low=0.0, high=deep, down=True),
        lines=lines,
        series=[
            Series(
                key="stages",
                label="stages",
                marks=[_mark(spot) for spot in made.every] + [_mark(spot, left_out=True) for spot in made.left_out],
            ),
            Series(
                key="secants",
                label="secant points",
                role="company",
                marks=[Mark(x=p, y=s) for loading in (first, second) for p, s in loading.secant_points or ()],
            ),
        ],
    )


def _mark(spot: Spot, *, left_out: bool = False) -> Mark:
    row, pressure, settlement = spot
    return Mark(x=pressure, y=settlement, path=f"stages.{row}", left_out=left_out)
