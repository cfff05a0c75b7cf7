"""What is written of a pat: its mould, wet, dry, waxed, and under water."""

from pydantic import Field

from vadum.soil.bench.water_at import water_temperature
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


class PatState(Choice):
    """What a pat looks like when it is dry."""

    WHOLE = "whole"
    CRACKED = "cracked"
    BROKEN = "broken"


class Pat(Row):
    """One pat of soil."""

    mould: str | None = remark("mould", "number on the mould", longest=40)
    volume_mould_cm3: float | None = reading(
        "V mould",
        "cm³",
        about="of the greased mould, by the water it holds under a glass plate",
        low=1,
        high=500,
        resolution=0.01,
        absent=REQUIRED,
        usual=(10, 60),
    )
    mass_mould_g: float | None = reading(
        "mould", "g", about="empty and greased", low=0, high=2000, resolution=0.01, absent=REQUIRED
    )
    mass_mould_wet_g: float | None = reading(
        "mould + wet", "g", about="struck off level", low=0, high=5000, resolution=0.01, hand="row", absent=REQUIRED
    )
    mass_mould_dry_g: float | None = reading(
        "mould + dry", "g", about="after the oven", low=0, high=5000, resolution=0.01, hand="row", absent=REQUIRED
    )
    state: PatState | None = Field(default=None, title="dry pat", description="how it looks once it is dry")
    mass_waxed_g: float | None = reading(
        "waxed", "g", about="the dry pat in its wax, in air", low=0, high=5000, resolution=0.01, absent=REQUIRED
    )
    mass_in_water_g: float | None = reading(
        "in water",
        "g",
        about="the waxed pat hanging under water",
        low=-500,
        high=5000,
        resolution=0.01,
        hand="row",
        absent=REQUIRED,
    )


class ShrinkageLimitReadings(Readings):
    """Pats of one mix."""

    pats: list[Pat] = Field(default_factory=list, title="pats", max_length=6)
    temperature_c: float | None = water_temperature(absent=HARMLESS)


class ShrinkageLimitSettings(Settings):
    """How many pats, how close they must be, and the wax."""

    needed: int = setting(1, "pats", "One is the standard's own count; two show a pat that held air.", low=1, high=4)
    apart_percent: float = setting(
        3.0, "largest spread", "Pats further apart than this ask for another.", unit="%", low=0.2, high=20
    )
    wax_density_g_cm3: float = setting(
        0.9, "density of the wax", "0.87 to 0.91 for paraffin; weigh a block of yours.", unit="g/cm³", low=0.7, high=1.1
    )


class ShrinkageLimitContext(Context):
    """The limits of the same sample, which the shrinkage limit is looked at beside."""

    liquid_limit: Leant | None = leant("liquid-limit.liquid_limit", "LL of this sample, percent, as reported")
    plastic_limit: Leant | None = leant("plastic-limit.plastic_limit", "PL of this sample, percent, as reported")
    plasticity_index: Leant | None = leant("plastic-limit.plasticity_index", "PI of this sample, percent, as reported")
