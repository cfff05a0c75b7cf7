"""The moduli of a lift, place by place, against the project's limit."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.methods.drop_plate.drops import Dropped
from vadum.soil.methods.drop_plate.readings import DropPlateSettings


def places_figure(found: list[Dropped], settings: DropPlateSettings) -> Figure:
    """Return the modulus of each place, with the limit as a line."""
    asked = settings.required_evd_mpa
    top = 1.2 * max([20.0, asked or 0.0, *(one.evd_mpa for one in found)])
    reach = max(4, len(found)) + 0.5
    lines = (
        [Line(key="limit", role="reference", label="required", points=[(0.5, asked), (reach, asked)])] if asked else []
    )
    said = ", ".join(f"{one.name} {one.evd_mpa:.1f} MPa" for one in found) or "No modulus yet"
    return Figure(
        key="places",
        title="Dynamic modulus by place",
        description=f"Evd of {len(found)} places: {said}.",
        caption=f"required {asked:g} MPa" if asked else "",
        x=Axis(label="place", low=0.5, high=reach, ticks=[float(k) for k in range(1, int(reach) + 1)]),
        y=Axis(label="Evd", unit="MPa", low=0.0, high=top),
        lines=lines,
        series=[
            Series(
                key="places",
                label="places",
                marks=[
                    Mark(x=float(k), y=one.evd_mpa, label=f"{one.evd_mpa:.1f} MPa", path=f"places.{one.row}")
                    for k, one in enumerate(found, 1)
                ],
            )
        ],
    )
