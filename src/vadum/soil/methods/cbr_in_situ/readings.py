"""What is written under the vehicle: the set-up, up to three positions within a metre, the water content beside
them."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.plunger.readings import (
    MOST_ROWS,
    BearingSettings,
    PenetrationRow,
    RingContext,
    ring_factor_reading,
    seating_div_reading,
    seating_reading,
)
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, Readings, answer, reading, services_located, setting


class Ended(Choice):
    """Why no further reading will come."""

    ALL_RUN = "all-run", "all positions run"
    LIFTED = "reaction-lifted", "reaction lifted"


YesNo = Literal["yes", "no"]
POSITIONS = ("position_1", "position_2", "position_3")


class CbrInSituReadings(Readings):
    """Reaction and ring, readings of each position, and how the set-up stood."""

    reaction_kn: float | None = reading(
        "reaction",
        "kN",
        about="what the vehicle can hold down at the jack",
        low=0.1,
        high=400,
        absent="the largest ratio it can measure is not known",
        usual=(0.5, 150),
    )
    expected_percent: float | None = reading(
        "CBR expected", "%", about="sets ring and seating force", low=0.5, high=300, absent=HARMLESS
    )
    ring_factor_n_div: float | None = ring_factor_reading()
    seating_n: float | None = seating_reading()
    seating_div: float | None = seating_div_reading()
    position_1: list[PenetrationRow] = Field(default_factory=list, title="position 1", max_length=MOST_ROWS)
    position_2: list[PenetrationRow] = Field(default_factory=list, title="position 2", max_length=MOST_ROWS)
    position_3: list[PenetrationRow] = Field(default_factory=list, title="position 3", max_length=MOST_ROWS)
    tins: list[TinRow] = Field(default_factory=list, title="water content beside the test", max_length=6)
    depth_m: float | None = reading("level of test", "m", about="below ground", low=0, high=20, absent=HARMLESS)
    surcharge_kg: float | None = reading("surcharge", "kg", low=0, high=100, absent=HARMLESS)
    rate_measured_mm_min: float | None = reading(
        "rate run", "mm/min", low=0.01, high=20, absent="the rate is not on record"
    )
    on_stands: YesNo | None = answer(
        "off its springs, on stands",
        "the vehicle stands on stands, not on its springs",
        absent="nobody can say that the vehicle stood off its springs",
        locks="Lift the vehicle off its springs onto stands first: springs give way under the plunger.",
    )
    chocked: YesNo | None = answer(
        "chocked, brakes on",
        "wheels chocked, brakes on, ground level",
        absent="nobody can say that the wheels were chocked",
        locks="Chock the wheels and put the brakes on first.",
    )
    datum_outside: YesNo | None = answer(
        "datum bar free",
        "feet of the datum bar outside the zone of influence, touching nothing",
        absent="nobody can say that the datum bar stood free",
        locks="Set the feet of the datum bar outside the zone of influence first.",
    )
    services_clear: YesNo | None = services_located(
        about="no cable or pipe below the stands and the plunger", absent="nobody can say that services were located"
    )
    coarse_below: YesNo | None = answer("stones above 20 mm below", "particles above 20 mm under the plunger")
    ended: Ended | None = Field(default=None, title="ended", description="no further reading will come, and why")


class CbrInSituSettings(BearingSettings):
    """School and constructions."""

    spread_percent: float | None = setting(
        None,
        "positions apart",
        "Off their mean at most. Blank: 3, 5 or 10 % of CBR between positions below 10, 30 and 60 (ASTM D4429).",
        unit="%",
        low=5,
        high=100,
    )
    tangent_position_1_mm: float | None = setting(
        None, "tangent by hand, position 1", "Dragged on the figure.", unit="mm", low=0, high=15
    )
    tangent_position_2_mm: float | None = setting(
        None, "tangent by hand, position 2", "Dragged on the figure.", unit="mm", low=0, high=15
    )
    tangent_position_3_mm: float | None = setting(
        None, "tangent by hand, position 3", "Dragged on the figure.", unit="mm", low=0, high=15
    )


class CbrInSituContext(RingContext):
    """Tins and the ring."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
