"""Texture of the fine earth: sand, silt and clay below 2 mm on a triangle."""

from math import sqrt

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Point, Region, Series

# Fields of the triangle as corners (clay, sand) in percent, Soil Survey Manual (2017), chapter 3.
FIELDS: dict[str, list[tuple[float, float]]] = {
    "sand": [(0, 100), (10, 90), (0, 85)],
    "loamy sand": [(0, 85), (10, 90), (15, 85), (0, 70)],
    "sandy loam": [(0, 70), (15, 85), (20, 80), (20, 52), (7, 52), (7, 43), (0, 50)],
    "loam": [(7, 43), (7, 52), (20, 52), (27, 45), (27, 23)],
    "silt loam": [(0, 50), (27, 23), (27, 0), (12, 0), (12, 8), (0, 20)],
    "silt": [(0, 20), (12, 8), (12, 0), (0, 0)],
    "sandy clay loam": [(20, 80), (35, 65), (35, 45), (27, 45), (20, 52)],
    "clay loam": [(27, 45), (40, 45), (40, 20), (27, 20)],
    "silty clay loam": [(27, 20), (40, 20), (40, 0), (27, 0)],
    "sandy clay": [(35, 65), (55, 45), (35, 45)],
    "silty clay": [(40, 20), (60, 0), (40, 0)],
    "clay": [(55, 45), (100, 0), (60, 0), (40, 20), (40, 45)],
}


def texture_class(sand: float, silt: float, clay: float) -> str:
    """Return the texture class of sand (2-0.05 mm), silt (0.05-0.002 mm) and clay, percent of the fine earth.

    Source: Soil Survey Manual (2017), chapter 3, definitions of the twelve classes.

    Raises
    ------
    ValueError
        If the three do not make 100 within 0.5 or one is negative.
    """
    if min(sand, silt, clay) < -1e-6 or abs(sand + silt + clay - 100.0) > 0.5:
        raise ValueError(f"sand {sand:g}, silt {silt:g} and clay {clay:g} % do not make 100")
    rules = (
        ("sand", silt + 1.5 * clay < 15),
        ("loamy sand", silt + 2 * clay < 30),
        ("sandy loam", (clay < 20 and sand > 52) or (clay < 7 and silt < 50)),
        ("loam", clay < 27 and 28 <= silt < 50 and sand <= 52),
        ("silt", silt >= 80 and clay < 12),
        ("silt loam", silt >= 50 and clay < 27),
        ("sandy clay loam", clay < 35 and silt < 28 and sand > 45),
        ("sandy clay", clay >= 35 and sand > 45),
        ("clay loam", clay < 40 and 20 < sand <= 45),
        ("silty clay loam", clay < 40 and sand <= 20),
        ("silty clay", silt >= 40),
    )
    return next((name for name, fits in rules if fits), "clay")


def texture_triangle(sand: float | None, silt: float | None, clay: float | None) -> Figure:
    """Return the triangle with the sample's field marked."""
    here = texture_class(sand, silt, clay) if sand is not None and silt is not None and clay is not None else None
    marks = (
        [Mark(x=_place(clay, sand)[0], y=_place(clay, sand)[1], label="this sample")]
        if here and clay is not None and sand is not None
        else []
    )
    regions = [
        Region(
            key=name.replace(" ", "-"),
            label=_SHORT.get(name, name),
            role="chosen" if name == here else "zone",
            points=[_place(c, s) for c, s in corners],
        )
        for name, corners in sorted(FIELDS.items(), key=lambda item: item[0] == here)
    ]
    said = (
        f"Fine earth: {sand:.0f} % sand, {silt:.0f} % silt, {clay:.0f} % clay: {here}."
        if here
        else "The fine earth's clay is not known yet."
    )
    edges: list[Point] = [_place(0, 100), _place(100, 0), _place(0, 0), _place(0, 100)]
    ends = [Line(key="edge", role="reference", points=edges)]
    corners = [
        Mark(x=x, y=y, label=label, in_hand=True)
        for label, (x, y) in (
            ("100 % sand", _place(0, 100)),
            ("100 % clay", _place(100, 0)),
            ("100 % silt", _place(0, 0)),
        )
    ]
    return Figure(
        key="texture",
        title="Texture",
        description=f"Triangle of sand, silt and clay below 2 mm. {said}",
        x=Axis(label="", low=-0.06, high=1.06, hidden=True),
        y=Axis(label="", low=-0.07, high=0.93, hidden=True),
        regions=regions,
        lines=ends,
        series=[
            Series(key="sample", label="this sample", marks=marks),
            Series(key="corners", label="corners", role="company", marks=corners),
        ],
    )


_SHORT = {
    "sandy clay loam": "sandy clay loam",
    "silty clay loam": "silty clay l.",
    "loamy sand": "loamy s.",
    "sandy clay": "sandy clay",
    "sand": "sand",
}


def _place(clay: float, sand: float) -> Point:
    """Return the place on an equilateral triangle with sand at the left foot, clay on top."""
    silt = 100.0 - clay - sand
    return ((silt + clay / 2) / 100.0, clay / 100.0 * sqrt(3) / 2)
