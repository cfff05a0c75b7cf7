"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import significant

K = Result(
    "k",
    "k",
    "permeability, {over}, at the ground's temperature",
    "m/s",
    significant(2),
    basis="ISO 22282-2",
    meaning="permeability by the level in a borehole",
    impossible=(0.0, 1.0),
    unusual=(1e-9, 3e-3),
    takes="clay or open gravel, or seconds typed for minutes",
)
K_MM_H = Result("k_mm_h", "k", "the same in mm/h", "mm/h", significant(3), quantity="conductivity")
K_20 = Result("k_20", "k 20", "in water of 20 °C, by viscosity", "m/s", significant(2), basis="Kestin et al. (1978)")
K_RUN = Result(
    "k_{number}",
    "k {number}",
    "run {number}, by the {way}",
    "m/s",
    significant(2),
    basis="ISO 22282-2",
    meaning="permeability by one run",
)
K_OTHER = Result(
    "k_{way}_{number}",
    "k {number} {way}",
    "run {number} beside it, by the {words}",
    "m/s",
    significant(2),
    basis="Hvorslev (1951)",
    meaning="permeability of a run by another way",
)
LAG = Result(
    "lag_{number}", "T {number}", "time lag of run {number}", "min", significant(3), meaning="basic time lag of a run"
)
FACTOR = Result("intake_factor", "F", "intake factor, {shape}", "m", significant(3), meaning="intake factor")
