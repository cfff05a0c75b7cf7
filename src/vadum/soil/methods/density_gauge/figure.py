"""Dry density against water content of each place, below the zero-air line."""

import numpy as np

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.methods.density_gauge.readings import DensityGaugeSettings
from vadum.soil.physics.phases import saturated_dry_density


def spots_figure(spots: list[tuple[str, int, float, float]], settings: DensityGaugeSettings) -> Figure:
    """Return the places as marks.

    Arguments
    ---------
    spots : name, row, water in percent and dry density in g/cm3 of each place
    """
    water = [w for *_, w, _ in spots] or [8.0, 16.0]
    dry = [rho for *_, rho in spots] or [1.6, 2.0]
    low, high = max(0.0, min(water) - 4), max(water) + 6
    bottom, top = min(dry) - 0.12, max(dry) + 0.2
    across = np.linspace(low, high, 40)
    full = [(float(w), saturated_dry_density(float(w), settings.assumed_particle_density)) for w in across]
    said = ", ".join(f"{name} {rho:.2f} g/cm³ at {w:.1f} %" for name, _, w, rho in spots) or "No place yet"
    return Figure(
        key="spots",
        title="Dry density and water",
        description=f"Dry density against water content of {len(spots)} places: {said}.",
        caption=f"zero air for Gs {settings.assumed_particle_density:g}",
        x=Axis(label="water content", unit="%", low=low, high=high),
        y=Axis(label="dry density", unit="g/cm³", low=bottom, high=top),
        lines=[
            Line(
                key="zero-air",
                role="reference",
                label="zero air",
                points=[(w, rho) for w, rho in full if bottom <= rho <= top],
            )
        ],
        series=[
            Series(
                key="places",
                label="places",
                marks=[Mark(x=w, y=rho, label=name, path=f"spots.{row}") for name, row, w, rho in spots],
            )
        ],
    )
