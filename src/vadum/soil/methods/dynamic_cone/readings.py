"""What is written at the rod: blows, and where the rule stands after them."""

from typing import Literal

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    Settings,
    answer,
    reading,
    services_located,
    setting,
)
from vadum.soil.physics.dynamic_cone import ConeRelation, Hammer


class Ended(Choice):
    """Why no further blow will come."""

    DEPTH = "depth-reached", "depth reached"
    REFUSAL = "refusal", "no further: stone or hard layer"
    ROD = "rod-end", "end of the rod"


class Rule(Choice):
    """Which way the rule counts as the cone goes down."""

    UP = "up"
    DOWN = "down"


class Blows(Row):
    """Some blows, and the rule after them."""

    blows: int | None = reading(
        "blows",
        "",
        about="since the row above; fewer where it goes in fast, so that a row is some 10 to 50 mm",
        low=1,
        high=200,
        by="count",
        also=("blows", "number of blows", "no. of blows"),
        absent=REQUIRED,
    )
    rule_mm: float | None = reading(
        "rule",
        "mm",
        about="where the rule stands after these blows",
        low=-200,
        high=3000,
        resolution=1,
        hand="row",
        also=("scale", "reading", "scale reading", "penetration", "depth"),
        absent=REQUIRED,
    )


class DynamicConeReadings(Readings):
    """Start, blows, and what the instrument is."""

    services_located: Literal["yes", "no"] | None = services_located(
        absent="nobody can say that services were located before a rod was driven"
    )
    start_m: float | None = reading(
        "level of start", "m", about="below ground, where the rule was set", low=0, high=20, absent=HARMLESS
    )
    zero_mm: float | None = reading(
        "rule at start",
        "mm",
        about="with the cone's shoulder at the level of start",
        low=-200,
        high=3000,
        resolution=1,
        absent="the rule taken to begin at 0 mm",
    )
    cone_mm: float | None = reading(
        "cone across",
        "mm",
        about="widest; 20 mm new, replaced below 18 mm",
        low=5,
        high=60,
        resolution=0.1,
        absent=HARMLESS,
        usual=(17, 21),
    )
    blows: list[Blows] = Field(default_factory=list, title="blows", max_length=400)
    upright: Literal["yes", "no"] | None = answer("rod upright", "the rod went down plumb, nobody leant on it")
    ended: Ended | None = Field(default=None, title="ended", description="no further blow will come, and why")


class DynamicConeSettings(Settings):
    """Hammer, relation, and what counts as another layer."""

    hammer: Hammer = setting(Hammer.KG_8, "hammer", "8 kg falling 575 mm; 4.6 kg in soft ground, two blows for one.")
    relation: ConeRelation = setting(
        ConeRelation.D6951, "CBR by", "Each holds for the soils it was found in; the sheet names it."
    )
    rule: Rule = setting(Rule.UP, "rule counts", "Down where it is fixed to the rod and read at the ground.")
    differs_percent: float = setting(
        25.0, "another layer", "Neighbours nearer than this in mm per blow are one layer.", unit="%", low=5, high=100
    )
    least_mm: float = setting(
        40.0, "thinnest layer", "A cone of 20 mm feels thinner ones only in part.", unit="mm", low=10, high=500
    )


class DynamicConeContext(Context):
    """Nothing is leant on."""
