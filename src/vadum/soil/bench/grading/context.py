"""What grading methods lean on: the other limb of the curve, the particle density, the sample's largest grain."""

from pydantic import BaseModel, ConfigDict, Field

from vadum.soil.contract.field import Context, Leant, curve_of, leant
from vadum.soil.contract.figure import Point


class CurveOf(BaseModel):
    """A measured limb of the sample's curve, or another sample's whole curve."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    points: list[Point] = Field(default_factory=list, description="diameter in mm, percent finer")
    source: str = "assumed"


class GradingContext(Context):
    """Context of sieve and hydrometer."""

    largest_particle_mm: Leant | None = Field(default=None, description="largest particle of the sample, mm")
    sieve_curve: CurveOf | None = curve_of("sieve", "the sample's sieve limb")
    hydrometer_curve: CurveOf | None = curve_of("hydrometer", "the sample's sedimentation limb")
    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
