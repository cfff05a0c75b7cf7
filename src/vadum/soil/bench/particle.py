"""The particle density a reduction leans on: typed, from the sample's own test, or assumed and said so."""

from typing import Any

from vadum.soil.contract.field import Leant, reading, setting
from vadum.soil.contract.finding import Finding, warn

GS_ASSUMED = warn(
    "gs-assumed",
    "Gs {gs:g} is assumed, not measured.",
    "Run a particle-density test or type the Gs if it is known; it prints as assumed.",
)


def particle_density_reading(absent: str = "assumed") -> Any:
    """Declare the particle density as an optional reading."""
    return reading(
        "Gs",
        "",
        about="specific gravity of the grains at 20 °C; from the sample's own test when left blank",
        low=1.5,
        high=6,
        resolution=0.01,
        absent=absent,
        usual=(2.4, 3.0),
    )


def assumed_setting(default: float) -> Any:
    """Declare what is assumed where the particle density was not measured."""
    return setting(
        default,
        "Gs assumed",
        "2.65 for sand, 2.70 for clay when nothing was measured; printed as assumed.",
        low=1.5,
        high=6,
    )


def particle_density(typed: float | None, leant: Leant | None, assumed: float) -> Leant:
    """Return the particle density in use and where it comes from."""
    if typed is not None:
        return Leant(value=typed, source="typed on this sheet")
    return leant or Leant(value=assumed, source="assumed")


def assumed_note(gs: Leant) -> list[Finding]:
    """Return a note when the particle density is assumed."""
    if gs.source != "assumed":
        return []
    return [GS_ASSUMED.at("particle_density", gs=gs.value)]
