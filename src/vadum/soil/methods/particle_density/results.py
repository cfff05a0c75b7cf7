"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, THOUSANDTH

PARTICLE_DENSITY = Result(
    "particle_density",
    "Gs",
    "specific gravity of the grains at 20 °C",
    "",
    HUNDREDTH,
    basis="ASTM D854",
    quantity="particle_density",
    card=6,
)
GRAIN_DENSITY_G_CM3 = Result(
    "grain_density_g_cm3", "ρs", "grain density", "g/cm³", HUNDREDTH, basis="ISO 17892-3", impossible=(1.0, 5.0)
)
SPREAD = Result("spread", "Δ", "spread of determinations", "", THOUSANDTH, agreement=True)
