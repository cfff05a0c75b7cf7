"""From a rate that the ground takes to a rate for design: the water's temperature, the factor of safety, what is
required."""

from vadum.soil.contract.field import Settings, setting
from vadum.soil.contract.finding import warn
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.numbers.rounding import significant
from vadum.soil.physics.water import water_viscosity

RATE_20 = Result(
    "rate_20", "i 20", "the same in water of 20 °C, by viscosity", "mm/h", significant(3), basis="Kestin et al. (1978)"
)
DESIGN_MM_H = Result(
    "design_mm_h",
    "design",
    "rate over a factor of {factor:g}{at}",
    "mm/h",
    significant(2),
    meaning="rate for design: over a factor, in water as cold as the setting says",
    opinion=True,
)
JUDGED = Result("judged", "required", "rate the project requires", opinion=True)
WATER_NOT_READ = warn(
    "water-not-read",
    "The water's temperature was not read: the rate for water of {wanted:g °C} takes it to have been {assumed:g °C}.",
    "Read the temperature of the water; where there is none left, say under remarks what it will have been.",
)
# What the sheet says of a temperature that is blank.
_ASSUMED_C = 20.0


class InfiltrationSettings(Settings):
    """What the rate is for."""

    safety_factor: float = setting(2.0, "factor of safety", "The rate over it meets what is required.", low=1, high=20)
    required_mm_h: float | None = setting(
        None, "rate required", "By the design of the project; empty: not judged.", unit="mm/h", low=0.01, high=5000
    )
    design_c: float | None = setting(
        None,
        "design at water of",
        "The coldest water that must go in; blank: as cold as it was at the test.",
        unit="°C",
        low=0,
        high=35,
    )


def for_design(
    result: Reduction, rate_mm_h: float, water_c: float | None, settings: InfiltrationSettings, cell: str
) -> None:
    """Add the rate at 20 degrees, the rate for design and what is said of it.

    Arguments
    ---------
    rate_mm_h : as it was measured, in water of ``water_c``, read in ``cell``; None where it was not read
    """
    if water_c is not None:
        result.parameters.append(RATE_20.of(rate_mm_h * to_temperature(water_c, 20.0)))
    cold, at = to_design(result, water_c, settings.design_c, cell)
    design = rate_mm_h * cold / settings.safety_factor
    result.parameters.append(DESIGN_MM_H.of(design, factor=settings.safety_factor, at=at))
    result.parameters += verdict(design, settings.required_mm_h)


def to_design(result: Reduction, water_c: float | None, design_c: float | None, cell: str) -> tuple[float, str]:
    """Return the factor that takes a rate to the water it is for, and what its name says of that; 1 and "" where no
    temperature is asked for. One that nobody read in ``cell`` is taken for that of the laboratory, and asked about."""
    if design_c is None:
        return 1.0, ""
    if water_c is None:
        result.findings.append(WATER_NOT_READ.at(cell, wanted=design_c, assumed=_ASSUMED_C))
    return to_temperature(_ASSUMED_C if water_c is None else water_c, design_c), f", water of {design_c:g} °C"


def to_temperature(water_c: float, wanted_c: float) -> float:
    """Return the factor that takes a rate in water of one temperature to another: the ratio of viscosities."""
    return float(water_viscosity(water_c) / water_viscosity(wanted_c))


def verdict(design_mm_h: float, required_mm_h: float | None) -> list[Parameter]:
    """Return whether a rate for design meets what is required; nothing where nothing is."""
    if required_mm_h is None:
        return []
    return [JUDGED.word(f"{'meets' if design_mm_h >= required_mm_h else 'does not meet'} {required_mm_h:g} mm/h")]
