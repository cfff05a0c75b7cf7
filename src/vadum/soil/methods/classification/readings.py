"""Facts a class needs: from the sample's other tests, or typed where there are none."""

from typing import Any, Literal

from pydantic import Field

from vadum.soil.bench.grading.context import CurveOf
from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    Context,
    Leant,
    Readings,
    Settings,
    curve_of,
    leant,
    reading,
    said,
    setting,
)
from vadum.soil.site.plasticity_chart import Neighbour


class Cobbles(Choice):
    """What is seen above 75 mm."""

    NONE = "none"
    COBBLES = "cobbles"
    BOULDERS = "boulders", "cobbles and boulders"


_FROM = "; from the sample's grading when left blank"
_FROM_TEST = "; from the sample's own test when left blank"


def _share(label: str, about: str) -> Any:
    return reading(label, "%", about=about + _FROM, low=0, high=100, absent=HARMLESS)


class ClassificationReadings(Readings):
    """What is typed overrides what other tests found."""

    fines_percent: float | None = _share("fines", "passing 0.075 mm, of what passes 75 mm")
    sand_percent: float | None = _share("sand", "0.075 to 4.75 mm, of what passes 75 mm")
    gravel_percent: float | None = _share("gravel", "4.75 to 75 mm, of what passes 75 mm")
    uniformity: float | None = reading(
        "Cu", "", about="coefficient of uniformity" + _FROM, low=1, high=1e6, absent=HARMLESS
    )
    curvature: float | None = reading(
        "Cc", "", about="coefficient of curvature" + _FROM, low=0, high=1e5, absent=HARMLESS
    )
    passing_2_mm_percent: float | None = _share("passing 2 mm", "of the whole soil below 75 mm")
    passing_0_425_mm_percent: float | None = _share("passing 0.425 mm", "of the whole soil below 75 mm")
    passing_0_075_mm_percent: float | None = _share(
        "passing 0.075 mm", "of the whole soil below 75 mm; the fines when left blank"
    )
    finer_0_05_mm_percent: float | None = _share("finer 0.05 mm", "of the whole soil")
    clay_percent: float | None = _share("finer 0.002 mm", "of the whole soil")
    plasticity: Literal["plastic", "non-plastic"] | None = Field(
        default=None, title="plasticity", description="non-plastic when a limit could not be had"
    )
    liquid_limit: float | None = reading(
        "LL", "%", about="as reported; from the sample's own test when left blank", low=0, high=600, absent=HARMLESS
    )
    plasticity_index: float | None = reading(
        "PI", "%", about="as reported; from the sample's own tests when left blank", low=0, high=500, absent=HARMLESS
    )
    liquid_limit_oven_dried: float | None = reading(
        "LL oven-dried",
        "%",
        about="liquid limit after drying at 110 °C, where the soil looks organic" + _FROM_TEST,
        low=0,
        high=600,
        absent=HARMLESS,
    )
    organic_look: Literal["no", "yes"] | None = Field(
        default=None,
        title="looks organic",
        description="dark, smells of decay; then the oven-dried liquid limit decides",
    )
    peat: Literal["no", "yes"] | None = Field(
        default=None, title="peat", description="mostly plant remains, dark brown to black, spongy"
    )
    cobbles: Cobbles | None = Field(default=None, title="above 75 mm", description="seen in the ground; joins the name")


class ClassificationSettings(Settings):
    """Which system speaks first."""

    first: Literal["unified", "highway"] = setting(
        "unified", "headline", "The system of the large result; both are always worked out."
    )


class ClassificationContext(Context):
    """The sample's other tests."""

    sieve_curve: CurveOf | None = curve_of("sieve", "the sample's sieve limb")
    hydrometer_curve: CurveOf | None = curve_of("hydrometer", "the sample's sedimentation limb")
    liquid_limit: Leant | None = leant("liquid-limit.liquid_limit", "LL of this sample, percent, as reported")
    liquid_limit_not_determinable: bool = said(
        "liquid-limit.liquid_limit", "", "true when the liquid limit could not be had"
    )
    liquid_limit_oven_dried: Leant | None = leant(
        "liquid-limit.liquid_limit_oven_dried", "LL of this sample after drying at 110 C, percent, as reported"
    )
    air_dried: bool = said("liquid-limit.state", "air-dried", "true when the limits are of soil that was air-dried")
    by_cone: bool = said("liquid-limit.device", "fall cone", "true when the liquid limit was found with a cone")
    plasticity_index: Leant | None = leant("plastic-limit.plasticity_index", "PI of this sample, percent, as reported")
    non_plastic: bool = said("plastic-limit.plasticity_index", "NP", "true when the sample was reported as non-plastic")
    neighbours: list[Neighbour] = Field(default_factory=list, description="limits of the project's other samples")
