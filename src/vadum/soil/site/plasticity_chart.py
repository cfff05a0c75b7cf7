"""The plasticity chart."""

from pydantic import BaseModel, ConfigDict, Field

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series
from vadum.soil.physics.plasticity import a_line, u_line

_A_LINE_BEND = 20 + 4 / 0.73
_SILTY_CLAY_END = 20 + 7 / 0.73


class Neighbour(BaseModel):
    """Limits of another sample of the project, drawn as quiet company on the chart."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    label: str
    liquid_limit: float = Field(json_schema_extra={"of": "liquid-limit.liquid_limit"})
    plastic_limit: float = Field(json_schema_extra={"of": "plastic-limit.plastic_limit"})


def plasticity_chart(liquid_limit: float | None, index: float | None, neighbours: list[Neighbour]) -> Figure:
    """Return the chart with this sample, where known, among the project's others."""
    others = [n for n in neighbours if n.liquid_limit > n.plastic_limit]
    limits = [n.liquid_limit for n in others] + ([liquid_limit] if liquid_limit is not None else [])
    right = 100.0 if not limits or max(limits) < 95 else 20.0 * (int(max(limits)) // 20 + 2)
    indices = [n.liquid_limit - n.plastic_limit for n in others] + ([index] if index is not None else [])
    top = max(60.0, float(u_line(right)) * 0.72 // 10 * 10, 10.0 * (max(indices, default=0.0) // 10 + 1))
    upper_end = min(right, top / 0.9 + 8)
    series = [
        Series(
            key="company",
            label="other samples of the project",
            role="company",
            marks=[Mark(x=n.liquid_limit, y=n.liquid_limit - n.plastic_limit, label=n.label) for n in others],
        )
    ]
    said = "This sample is not on the chart yet."
    if liquid_limit is not None and index is not None:
        here = Mark(x=liquid_limit, y=index, label="this sample")
        series.insert(0, Series(key="sample", label="this sample", marks=[here]))
        side = "above" if index > float(a_line(liquid_limit)) else "on or below"
        said = f"This sample: LL {liquid_limit:g}, PI {index:g}, {side} the A-line."
    return Figure(
        key="plasticity-chart",
        title="Plasticity chart",
        description=f"Plasticity index against liquid limit. {said} {len(others)} other samples of the project shown.",
        x=Axis(label="liquid limit", unit="%", low=0, high=right),
        y=Axis(label="plasticity index", unit="%", low=0, high=top),
        regions=[
            Region(
                key="cl-ml",
                label="CL-ML",
                role="zone",
                points=[(16.0, 4.0), (_A_LINE_BEND, 4.0), (_SILTY_CLAY_END, 7.0), (16.0, 7.0)],
            )
        ],
        lines=[
            Line(
                key="a-line",
                label="A-line",
                role="reference",
                points=[(16.0, 4.0), (_A_LINE_BEND, 4.0), (right, float(a_line(right)))],
            ),
            Line(
                key="u-line",
                label="U-line",
                role="reference",
                points=[(16.0, 0.0), (16.0, float(u_line(16.0))), (upper_end, float(u_line(upper_end)))],
            ),
            Line(key="ll-50", role="reference", points=[(50.0, 0.0), (50.0, min(top, float(u_line(50.0))))]),
        ],
        series=series,
    )
