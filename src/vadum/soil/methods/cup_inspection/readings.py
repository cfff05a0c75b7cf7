"""What is measured and felt on the cup."""

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, Context, Readings, Settings, answer, reading, setting


class WornGroove(Choice):
    """What a finger feels along the line of the groove."""

    NONE = "none", "none felt"
    FELT = "felt", "felt with the finger"


class GaugeBlock(Choice):
    """What the cup does on the gauge block while the crank is turned to and fro at the top of its lift."""

    PINGS = "pings", "pings and does not lift"
    LIFTS = "lifts", "lifts off the block"
    SILENT = "silent", "stays silent"


class Wall(Choice):
    """The cup's thinnest wall by eye, against a new one."""

    MORE = "more-than-half", "more than half"
    LESS = "less-than-half", "less than half"


class CupInspectionReadings(Readings):
    """One inspection of one cup."""

    gauge_block: GaugeBlock | None = answer("gauge block", "under the cup at the worn contact point, crank to and fro")
    drop_height_mm: float | None = reading(
        "drop height",
        "mm",
        about="at the worn contact point, where it is measured",
        low=0,
        high=40,
        resolution=0.1,
        expected=(9.8, 10.2),
        absent=HARMLESS,
    )
    contact_spot_cup_mm: float | None = reading(
        "worn spot on the cup", "mm", about="widest", low=0, high=60, resolution=0.5, expected=(0, 13), absent=HARMLESS
    )
    contact_spot_base_mm: float | None = reading(
        "worn spot on the base",
        "mm",
        about="widest, where the base is looked at",
        low=0,
        high=60,
        resolution=0.5,
        absent=HARMLESS,
    )
    groove_in_cup: WornGroove | None = Field(
        default=None, title="groove worn in the cup", description="run a finger along the line of the groove"
    )
    wall: Wall | None = answer("thinnest wall", "by eye, against a new cup")
    thickness_percent: float | None = reading(
        "wall measured",
        "%",
        about="share of the new cup's wall at its thinnest, where it is measured",
        low=0,
        high=120,
        expected=(50, 100),
        absent=HARMLESS,
    )
    feet: int | None = reading(
        "feet in place", "", about="number of feet under the base", low=0, high=4, expected=(4, 4), absent=HARMLESS
    )
    tool_tip_mm: float | None = reading(
        "grooving tool tip",
        "mm",
        about="width of the tip",
        low=0,
        high=10,
        resolution=0.1,
        expected=(1.9, 2.1),
        absent=HARMLESS,
    )
    base_rebound_percent: float | None = reading(
        "base rebound",
        "%",
        about="optional: rebound of an 8 mm steel ball from 254 mm",
        low=0,
        high=110,
        expected=(77, 90),
        absent=HARMLESS,
    )


class CupInspectionSettings(Settings):
    """Limits of wear."""

    drop_tolerance_mm: float = setting(
        0.2, "drop tolerance", "10 ± 0.2 mm in D4318.", unit="mm", low=0.05, high=1, followed=(None, 0.2)
    )
    widest_spot_mm: float = setting(
        13.0, "widest worn spot", "Above 13 mm the drop is no longer a point contact.", unit="mm", low=5, high=20
    )
    least_thickness_percent: float = setting(
        50.0, "thinnest wall", "A cup worn to half its wall is replaced.", unit="%", low=10, high=100
    )


class CupInspectionContext(Context):
    """Nothing is leant on."""
