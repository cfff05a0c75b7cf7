"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import THOUSANDTH, significant

KFS = Result(
    "kfs",
    "Kfs",
    "field-saturated conductivity, {said}",
    "mm/h",
    significant(3),
    basis="Reynolds and Elrick (1986)",
    quantity="conductivity",
    meaning="field-saturated conductivity",
    impossible=(0.0, 50000.0),
    unusual=(0.05, 1500.0),
    takes="clean gravel or tight clay, or seconds typed for minutes",
)
KFS_M_S = Result("kfs_m_s", "Kfs", "the same in SI", "m/s", significant(2))
KFS_BY_HEAD = Result(
    "kfs_{k}",
    "Kfs {k}",
    "by head {k} alone and the class of soil",
    "mm/h",
    significant(3),
    basis="Elrick, Reynolds and Tan (1989)",
    meaning="field-saturated conductivity by one head and the class of soil",
)
KFS_TWO = Result(
    "kfs_two", "Kfs two", "by two heads at once", "mm/h", significant(3), basis="Reynolds and Elrick (1986)"
)
POTENTIAL = Result("potential", "φm", "matric flux potential, at 20 °C", "cm²/min", significant(2))
ALPHA = Result(
    "alpha", "α*", "of the ground, from both heads", "1/cm", THOUSANDTH, impossible=(0.0, 10.0), unusual=(0.005, 0.6)
)
DESIGN_MM_H = Result(
    "design_mm_h",
    "design",
    "infiltration rate {infiltration} over a factor of {factor:g}",
    "mm/h",
    significant(2),
    meaning="rate for design: over a factor",
    opinion=True,
)
RELATION_MM_H = Result(
    "relation_mm_h",
    "by relation",
    "rate by Kfs = 6·10⁻¹¹ I^3.7363, without the factor; beside it for comparison",
    "mm/h",
    significant(2),
    opinion=True,
)
JUDGED = Result("judged", "required", "rate the project requires", opinion=True)
