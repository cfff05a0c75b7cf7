"""The profile: bearing ratio by depth, row by row and layer by layer."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.methods.dynamic_cone.layers import Driven, Layer
from vadum.soil.methods.dynamic_cone.readings import DynamicConeReadings, DynamicConeSettings
from vadum.soil.physics.dynamic_cone import HAMMER_FACTOR, cone_ratio_percent

_LEAST, _MOST = 1.0, 200.0


def profile_figure(
    made: Driven, found: list[Layer], readings: DynamicConeReadings, settings: DynamicConeSettings
) -> Figure:
    """Return the bearing ratio against depth, downward; rows as marks, layers as steps."""
    start, factor = readings.start_m or 0.0, HAMMER_FACTOR[settings.hammer]
    ratios = [cone_ratio_percent(factor * d, settings.relation) if d > 0 else _MOST for d in made.per_blow]
    marks = [
        Mark(x=min(max(ratio, _LEAST), _MOST), y=start + (top + bottom) / 2000, path=f"blows.{row}")
        for row, ratio, top, bottom in zip(made.rows, ratios, made.from_mm, made.to_mm, strict=True)
    ]
    steps: list[tuple[float, float]] = []
    for one in found:
        ratio = min(max(cone_ratio_percent(one.mm_per_blow, settings.relation), _LEAST), _MOST)
        steps += [(ratio, one.top_m), (ratio, one.bottom_m)]
    said = "; ".join(
        f"{one.top_m:.2f} to {one.bottom_m:.2f} m: {cone_ratio_percent(one.mm_per_blow, settings.relation):.0f} %"
        for one in found
    )
    deep = start + max([800.0, *made.to_mm]) / 1000
    return Figure(
        key="profile",
        title="Bearing ratio with depth",
        description=(
            f"CBR by the cone against depth, {len(made.rows)} rows, {len(found)} layers. {said or 'No layer yet.'}"
        ),
        caption=said if len(found) < 4 else f"{len(found)} layers",
        x=Axis(label="CBR by the cone", unit="%", scale="log", low=_LEAST, high=_MOST),
        y=Axis(label="depth", unit="m", low=start, high=1.05 * (deep - start) + start, down=True),
        lines=[Line(key="layers", label="layers", points=steps)] if steps else [],
        series=[Series(key="rows", label="rows", marks=marks)],
    )
