"""What is chosen of a shear-box test: box, areas, envelopes, reversals, peaks by hand."""

from typing import Literal

from vadum.soil.bench.particle import assumed_setting
from vadum.soil.bench.peak import fall_setting
from vadum.soil.choice import Choice
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.field import Context, Leant, leant, setting

MOST_SPECIMENS = 6
PEAKS = tuple(f"peak_{n}_mm" for n in range(1, MOST_SPECIMENS + 1))


class ForceRead(Choice):
    """How the force is read."""

    NEWTONS = "newtons", "in N"
    DIVISIONS = "divisions", "in divisions of a ring"


class DirectShearSettings(HandSettings):
    """Box, areas and envelopes."""

    box: Literal["square", "round"] = setting("square", "box", "60 or 100 mm square, or round.")
    force_read: ForceRead = setting(
        ForceRead.NEWTONS, "force read", "In N by a load cell; or in divisions, each specimen with its own ring."
    )
    area: Literal["constant", "corrected"] = setting(
        "constant",
        "area",
        "Constant: normal and shear stress shrink together; corrected by the travel in another school. Printed.",
    )
    cohesion: Literal["free", "none"] = setting(
        "free", "cohesion", "Free: least squares with an intercept. None: through the origin, for clean sand."
    )
    apart_percent: float = setting(
        2.0,
        "densities within",
        "Specimens whose densities differ more are not of one state.",
        unit="%",
        low=0.5,
        high=20,
    )
    travel_percent: float = setting(
        10.0, "travel at least", "Of the box, when no peak was passed.", unit="%", low=2, high=30, followed=(10, None)
    )
    reversals: bool = setting(
        False,
        "residual by reversals",
        "On: the box is pushed back and sheared again until two passes end alike; the last one is residual.",
    )
    passes_within_percent: float = setting(
        5.0,
        "passes end alike within",
        "The last two passes of a specimen; further apart it still falls.",
        unit="%",
        low=1,
        high=20,
    )
    assumed_particle_density: float = assumed_setting(2.65)
    peak_fall_percent: float = fall_setting()
    peak_1_mm: float | None = setting(
        None, "peak by hand, specimen 1", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_2_mm: float | None = setting(
        None, "peak by hand, specimen 2", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_3_mm: float | None = setting(
        None, "peak by hand, specimen 3", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_4_mm: float | None = setting(
        None, "peak by hand, specimen 4", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_5_mm: float | None = setting(
        None, "peak by hand, specimen 5", "Dragged on the figure.", unit="mm", low=0, high=60
    )
    peak_6_mm: float | None = setting(
        None, "peak by hand, specimen 6", "Dragged on the figure.", unit="mm", low=0, high=60
    )


class DirectShearContext(Context):
    """Gs."""

    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
