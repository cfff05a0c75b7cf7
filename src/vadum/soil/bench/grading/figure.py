"""The grading figure: percent finer against diameter on a log axis, fraction bands and sieves above it."""

from dataclasses import dataclass, field, replace

from vadum.soil.bench.grading.fractions import FRACTIONS, Convention
from vadum.soil.bench.grading.sieves import STACKS, sieve_name
from vadum.soil.contract.figure import Axis, Band, Figure, Line, Mark, Point, Series
from vadum.soil.physics.grading import Curve, joined


@dataclass(frozen=True)
class Limb:
    """Measured points of one kind: sieves or sedimentation, with the path of the row each came from."""

    key: str
    label: str
    marks: list[Mark] = field(default_factory=list)


def grading_figure(
    limbs: list[Limb],
    curve: Curve,
    convention: Convention,
    company: list[tuple[str, list[Point]]] | None = None,
    said: str = "",
) -> Figure:
    """Return the figure of a sample's curve, straight from point to point so that a gap stays a gap.

    Arguments
    ---------
    limbs : the measured points
    curve : the joint curve through them
    company : other samples by name, drawn quietly
    """
    others = [(name, points) for name, points in company or [] if points]
    measured = curve.points
    diameters = [
        d for points in (measured, *(points for _, points in others)) if points for d in (points[0][0], points[-1][0])
    ]
    low = 0.0005 if diameters and min(diameters) < 0.02 else 0.01
    high = 200.0 if diameters and max(diameters) > 60 else 100.0
    lines = [
        Line(key=f"company-{i}", label=name, role="company", points=points) for i, (name, points) in enumerate(others)
    ]
    if len(curve) > 1:
        lines.append(Line(key="curve", points=measured))
    for percent in (10, 30, 60):
        if (d := curve.diameter_at(percent)) is not None:
            drop: list[Point] = [(low, percent), (d, percent), (d, 0.0)]
            lines.append(Line(key=f"d{percent}", label=f"D{percent}", role="construction", points=drop))
    stack = STACKS["by number" if convention == Convention.UNIFIED else "in mm"]
    return Figure(
        key="grading",
        title="Grain-size curve",
        description=f"Percent finer against diameter, log scale. {said}".strip(),
        x=Axis(
            label="diameter",
            unit="mm",
            scale="log",
            low=low,
            high=high,
            named=[(opening, sieve_name(opening) or f"{opening:g}") for opening in stack if low < opening < high],
        ),
        y=Axis(label="percent finer", unit="%", low=0, high=100, ticks=[0, 20, 40, 60, 80, 100]),
        bands=_bands(convention, low, high),
        lines=lines,
        series=[Series(key=limb.key, label=limb.label, marks=limb.marks) for limb in limbs],
    )


def _bands(convention: Convention, low: float, high: float) -> list[Band]:
    """Return clay, silt, sand, gravel and cobbles as far as the axis shows them, divided into fine to coarse."""
    bands: dict[str, Band] = {}
    for name, bottom, top in FRACTIONS[convention]:
        if top <= low or bottom >= high:
            continue
        part, _, group = name.removesuffix(" size").rpartition(" ")
        stretch = Band(label=part, low=max(bottom, low), high=min(top, high))
        if group in bands:
            bands[group].parts.append(stretch)
            bands[group].high = stretch.high
        else:
            bands[group] = replace(stretch, label=group, parts=[stretch] if part else [])
    return list(bands.values())


def sample_figure(coarse: Curve, fine: Curve, convention: Convention, company: list[tuple[str, list[Point]]]) -> Figure:
    """Return the one curve of a sample, for pages where no reading is typed."""
    limbs = [
        Limb(key, label, [Mark(x=d, y=p) for d, p in curve.points])
        for key, label, curve in (("sieve", "sieve", coarse), ("sedimentation", "hydrometer", fine))
    ]
    return grading_figure(limbs, joined(coarse, fine), convention, company)
