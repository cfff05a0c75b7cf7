"""What is written at the plate: a line per place, three seating and three measuring drops each."""

from typing import Any, Literal

from pydantic import Field

from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    Settings,
    answer,
    reading,
    remark,
    setting,
)

SEATING = ("seating_1_mm", "seating_2_mm", "seating_3_mm")
MEASURED = ("s_1_mm", "s_2_mm", "s_3_mm")
SPEEDS = ("v_1_mm_s", "v_2_mm_s", "v_3_mm_s")


def _settlement(label: str, about: str, *, absent: str, hand: Literal["row"] | None = None) -> Any:
    return reading(
        label, "mm", about=about, low=0, high=500, resolution=0.01, usual=(0.1, 2.5), absent=absent, hand=hand
    )


def _speed(label: str, *, hand: Literal["row"] | None = None) -> Any:
    return reading(
        label,
        "mm/s",
        about="largest velocity of that drop",
        low=0,
        high=3000,
        resolution=0.1,
        shown={"velocity": [True]},
        absent=HARMLESS,
        hand=hand,
    )


class Place(Row):
    """One place: drops that seat the plate, drops that count."""

    place: str | None = remark("place", "chainage or name", longest=60, also=("point", "chainage", "station"))
    seating_1_mm: float | None = _settlement("seat 1", "first seating drop", absent=HARMLESS)
    seating_2_mm: float | None = _settlement("seat 2", "second seating drop", absent=HARMLESS)
    seating_3_mm: float | None = _settlement("seat 3", "third seating drop", absent=HARMLESS)
    s_1_mm: float | None = _settlement("s 1", "first measuring drop", absent=REQUIRED)
    s_2_mm: float | None = _settlement("s 2", "second measuring drop", absent=REQUIRED)
    s_3_mm: float | None = _settlement("s 3", "third measuring drop", absent=REQUIRED, hand="row")
    v_1_mm_s: float | None = _speed("v 1")
    v_2_mm_s: float | None = _speed("v 2")
    v_3_mm_s: float | None = _speed("v 3", hand="row")


class DropPlateReadings(Readings):
    """Places of a lift, and how the plate stood."""

    places: list[Place] = Field(default_factory=list, title="places", max_length=60)
    largest_particle_mm: float | None = reading("largest particle", "mm", low=0, high=500, absent=HARMLESS)
    depth_m: float | None = reading("level of test", "m", about="below ground", low=0, high=30, absent=HARMLESS)
    level: Literal["yes", "no"] | None = answer(
        "plate level, no hollow", "the plate lies on all its face, thin sand where the ground is rough"
    )
    excavated: Literal["yes", "no"] | None = answer("loose top taken off", "the crust or the loosened top is taken off")
    finished: Literal["yes"] | None = answer("all places tested", "no further place will come")


class DropPlateSettings(Settings):
    """Plate, calibration, and what the project asks."""

    diameter_mm: float = setting(
        300.0,
        "plate",
        "300 mm with 10 kg; others by their calibration.",
        unit="mm",
        low=80,
        high=600,
        followed=(300, 300),
    )
    pressure_kpa: float = setting(
        100.0,
        "pressure of a drop",
        "100 kPa for 10 kg on 300 mm, set at the calibration.",
        unit="kPa",
        low=20,
        high=500,
        followed=(100, 100),
    )
    velocity: bool = setting(False, "velocity typed", "Then s/v tells how far compaction has come.")
    scatter_percent: float = setting(
        10.0,
        "drops apart by",
        "Measuring drops further apart than this compact the ground still (ASTM E2835).",
        unit="%",
        low=2,
        high=50,
    )
    most_ratio_ms: float = setting(
        3.5, "s/v at most", "Above it the ground gives still: more passes.", unit="ms", low=1, high=10
    )
    required_evd_mpa: float | None = setting(
        None, "Evd required", "The project's limit for each place; blank for none.", unit="MPa", low=1, high=500
    )


class DropPlateContext(Context):
    """Nothing is leant on."""
