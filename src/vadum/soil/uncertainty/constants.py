"""How well a constant is known that was typed, assumed or leant on and of which no certificate says it.

Judgements, not measurements: what a caliper, a class 1 gauge or a practised eye leaves in doubt (ISO/IEC Guide 98-3,
4.3.7 and 4.3.8). Where one of them leads, the sheet says that it is a default.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import BaseModel

from vadum.soil.contract.field import Context, Leant, Readings
from vadum.soil.contract.places import Column, Taken, columns
from vadum.soil.uncertainty.disturbing import Typed
from vadum.soil.uncertainty.repeatability import published_for


@dataclass(frozen=True)
class Default:
    """One standard uncertainty: an amount in the constant's unit, or a share of it."""

    amount: float = 0.0
    share: float = 0.0

    def of(self, value: float) -> float:
        return self.amount or self.share * abs(value)

    @property
    def words(self) -> str:
        return f"{self.amount:g}" if self.amount else f"{100 * self.share:g} %"


# Forces, pressures and levers: half of what a class 1 instrument may be off by.
_CLASS_1 = Default(share=0.005)
READ: dict[str, Default] = {
    "ring_factor_n_div": _CLASS_1,
    "ring_n_div": _CLASS_1,
    "constant": Default(share=0.01),
    "pressure_kpa": _CLASS_1,
    "preload_kpa": _CLASS_1,
    "seating_kpa": _CLASS_1,
    "rated_kpa": Default(share=0.02),
    "suction": Default(share=0.02),
    "piston_cm2": _CLASS_1,
    "lever": Default(share=0.002),
    "hanger_kg": Default(share=0.001),
    "cap_kg": Default(share=0.001),
    "lever_plate_mm": Default(amount=1.0),
    "lever_gauge_mm": Default(amount=1.0),
    # Sizes by a caliper, a rule in the ground, a tape down a hole.
    "diameter_mm": Default(amount=0.2),
    "height_mm": Default(amount=0.2),
    "height_specimen_mm": Default(amount=0.2),
    "volume_liner_cm3": Default(share=0.01),
    "ring_cm2": Default(share=0.005),
    "embedded_mm": Default(amount=2.0),
    "hole_diameter_mm": Default(amount=2.0),
    "hole_radius_mm": Default(amount=1.0),
    "hole_depth_mm": Default(amount=5.0),
    "head_1_mm": Default(amount=2.0),
    "head_2_mm": Default(amount=2.0),
    "top_m": Default(amount=0.02),
    "base_m": Default(amount=0.02),
    # Soil, by the eye, a meter or another test.
    "porosity": Default(amount=0.02),
    "dry_density_g_cm3": Default(amount=0.02),
    "moisture_before": Default(share=0.08),
    "moisture_after": Default(share=0.08),
    "hygroscopic_percent": Default(amount=0.1),
    "passing_percent": Default(amount=0.5),
    "oversize_percent": Default(amount=1.0),
    "oversize_specific_gravity": Default(amount=0.03),
    "oversize_water_percent": Default(amount=0.3),
    "finer_percent": Default(amount=0.5),
    "water_content_percent": Default(amount=0.3),
    "plasticity_index": Default(amount=2.0),
    # Half a division between two marks.
    "meniscus": Default(share=0.25),
}
SET: dict[str, Default] = {
    "assumed_particle_density": Default(amount=0.03),
    "assumed_porosity": Default(amount=0.05),
    "membrane_modulus_kpa": Default(share=0.1),
}
_LEANT = {"porosity": Default(amount=0.02)}


def typed_constants(readings: Readings, settings: BaseModel, context: Context) -> Iterator[Typed]:
    """Yield what was typed, assumed or leant on, each with the uncertainty that is taken for it."""
    taken = Taken(readings)
    for one in columns(type(readings)):
        if one.name in READ and not one.extra.get("resolution") and one.shown_in(settings):
            yield from _typed(one, taken)
    for name, default in SET.items():
        if isinstance(getattr(settings, name, None), float):
            label = type(settings).model_fields[name].title or name
            yield from _held(label, (settings,), name, default)
    for name in type(context).model_fields:
        leant = getattr(context, name)
        if isinstance(leant, Leant) and (known := _leant(name, leant.value)) is not None:
            yield from _held(f"{name.replace('_', ' ')} ({leant.source})", (leant,), "value", known)


def _typed(one: Column, taken: Taken) -> Iterator[Typed]:
    holders = tuple(h for _, h in taken.cells(one) if isinstance(h.__dict__[one.name], float))
    yield from _held(f"{one.title}: {one.label}" if one.table else one.label, holders, one.name, READ[one.name])


def _held(label: str, holders: tuple[BaseModel, ...], name: str, default: Default) -> Iterator[Typed]:
    if holders:
        standards = tuple(default.of(float(getattr(holder, name))) for holder in holders)
        yield Typed(f"{label}, ± {default.words} by default", holders, name, standards)


def _leant(name: str, value: float) -> Default | None:
    published = published_for(name)
    return Default(amount=published.of(value)) if published else _LEANT.get(name)
