"""What is written when a bar is filled and when it is dry."""

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Leant,
    Readings,
    Row,
    Settings,
    leant,
    reading,
    remark,
    setting,
)


class BarState(Choice):
    """What a bar looks like when it is dry."""

    STRAIGHT = "straight"
    CURVED = "curved"
    CRACKED = "cracked"
    IN_PIECES = "in-pieces", "in pieces"


class MixedAt(Choice):
    """How wet the paste was when it was put in."""

    LIQUID_LIMIT = "liquid-limit", "at the liquid limit"
    DRIER = "drier"
    WETTER = "wetter"


class Bar(Row):
    """One bar of soil in its mould."""

    mould: str | None = remark("mould", "number on the mould", longest=40)
    length_mould_mm: float | None = reading(
        "L0",
        "mm",
        about="inside length of the mould",
        low=10,
        high=1000,
        resolution=0.1,
        expected=(139, 141),
        hand="row",
        absent=REQUIRED,
        usual=(100, 200),
    )
    length_top_mm: float | None = reading(
        "dry, top", "mm", about="length of the dry bar along its top", low=1, high=1000, resolution=0.1, absent=REQUIRED
    )
    length_bottom_mm: float | None = reading(
        "dry, bottom",
        "mm",
        about="length along its bottom; the mean of both counts when the bar has bent",
        low=1,
        high=1000,
        resolution=0.1,
        hand="down",
        absent=HARMLESS,
    )
    state: BarState | None = Field(default=None, title="dry bar", description="how it looks once it is dry")

    @property
    def length_dry_mm(self) -> float | None:
        """Return the length of the dry bar: of top and bottom the mean, of one alone that one."""
        read = [length for length in (self.length_top_mm, self.length_bottom_mm) if length is not None]
        return sum(read) / len(read) if read else None


class LinearShrinkageReadings(Readings):
    """Bars of one mix."""

    bars: list[Bar] = Field(default_factory=list, title="bars", max_length=6)
    mixed_at: MixedAt | None = Field(
        default=None, title="mixed", description="the paste is wanted at about the liquid limit"
    )


class LinearShrinkageSettings(Settings):
    """How many bars, and how close they must be."""

    needed: int = setting(
        1, "bars", "One is the standard's own count; two show a bar that broke or held air.", low=1, high=4
    )
    apart_percent: float = setting(
        2.0, "largest spread", "Bars further apart than this ask for another.", unit="%", low=0.2, high=10
    )


class LinearShrinkageContext(Context):
    """The plasticity index of the same sample, which the shrinkage goes with."""

    plasticity_index: Leant | None = leant("plastic-limit.plasticity_index", "PI of this sample, percent, as reported")
