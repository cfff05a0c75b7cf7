"""What is chosen of a triaxial test: its kind, failure, areas, corrections, rates."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.particle import assumed_setting
from vadum.soil.bench.peak import fall_setting
from vadum.soil.choice import Choice
from vadum.soil.contract.field import Context, Leant, Settings, leant, remark, setting
from vadum.soil.physics.triaxial import Ends


class Criterion(Choice):
    """What counts as failure."""

    DEVIATOR = "deviator", "largest deviator"
    OBLIQUITY = "obliquity", "largest obliquity"
    # Code and earlier word are of the time when the limit was always 15 %.
    STRAIN = "strain-15", "stress at the strain limit", "15 % strain"


class RateRule(Choice):
    """Which time of consolidation sets the rate."""

    T100 = "t100"
    T50_T90 = "t50-t90", "t50 or t90"


class AreaRule(Choice):
    """How the area of a specimen is known when shearing begins."""

    MEASURED = "measured", "by water out and height"
    ALIKE = "alike", "by water out, alike in all directions"
    FINAL = "final", "by the final water content"


Kind = Literal["UU", "CU", "CD"]


class TriaxialSettings(Settings):
    """Kind of test, failure, corrections."""

    kind: Kind = setting(
        "CU",
        "kind",
        "UU: unconsolidated undrained; CU: consolidated undrained with pore pressure; CD: drained with volume change.",
    )
    criterion: Criterion = setting(
        Criterion.DEVIATOR,
        "failure",
        "Largest deviator; largest ratio of effective stresses; or the stress at the strain limit.",
    )
    limit_percent: float = setting(
        15.0,
        "strain limit",
        "No failure is looked for beyond; the stress at the limit itself is read between readings.",
        unit="%",
        low=5,
        high=30,
        followed=(15, 15),
    )
    area: AreaRule = setting(
        AreaRule.MEASURED,
        "area when shearing begins",
        "Methods A and B of D4767; or from the water out as if it shrank alike in all directions (BS 1377-8).",
    )
    soak_h: float = setting(
        16.0, "membrane soaks", "In water, from the day before; 0 where it is not soaked.", unit="h", low=0, high=72
    )
    assumed_particle_density: float = assumed_setting(2.70)
    membrane_modulus_kpa: float = setting(
        1400.0, "modulus of the membrane", "1400 kPa for latex.", unit="kPa", low=200, high=5000
    )
    filter_kpa: float = setting(
        0.0, "side drains carry", "Beyond 2 % strain; 0 without side drains.", unit="kPa", low=0, high=30
    )
    side_drains: bool = setting(True, "side drains", "They shorten drainage and set the rate.")
    ends: Ends = setting(
        Ends.ONE, "ends drained as a rule", "With the side drains they set cv and the rate (BS 1377-8, table 1)."
    )
    two_because: str | None = remark(
        "fewer than three because", "Three make an envelope; fewer need a reason, and the sheet prints it.", longest=160
    )
    rate_rule: RateRule = setting(
        RateRule.T100,
        "rate from",
        "t100 in root time with the factors for side drains; or ten t50 in log time undrained, sixteen t90 drained.",
    )
    failure_strain_percent: float = setting(
        8.0,
        "failure expected at",
        "Strain that the rate of shearing counts on; 4 is cautious for stiff clay.",
        unit="%",
        low=1,
        high=20,
    )
    peak_fall_percent: float = fall_setting()
    least_b: float = setting(
        0.95, "B at least", "Below it the pore pressure does not tell.", low=0.5, high=1, followed=(0.95, None)
    )


class TriaxialContext(Context):
    """Tins, Gs."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
