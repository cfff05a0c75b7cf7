"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, WHOLE, significant

KS_SITE = Result(
    "ks_site",
    "Ks",
    "conductivity at saturation, {over}",
    "mm/h",
    significant(3),
    basis="ASTM D8152",
    quantity="conductivity",
    meaning="conductivity at saturation of a site",
    impossible=(0.0001, 20000.0),
    unusual=(0.05, 2000.0),
    takes="clean gravel or tight clay, or seconds typed for minutes",
)
BAND = Result(
    "ks_site_band",
    "Ks 95 %",
    "band of the geometric mean of {count} places, by Student's t of their logarithms",
    basis="log-normal conductivity",
    meaning="band of the geometric mean of a site's places, at 95 %",
)
KS_SITE_M_S = Result("ks_site_m_s", "Ks", "the same in SI", "m/s", significant(2), basis="ASTM D8152")
SPREAD = Result(
    "spread",
    "spread",
    "geometric standard deviation, a factor",
    "",
    HUNDREDTH,
    agreement=True,
    impossible=(1.0, 1000.0),
    unusual=(None, 6.0),
)
DESIGN_MM_H = Result(
    "design_mm_h",
    "design",
    "site's value over a factor of {safety_factor:g}{at}",
    "mm/h",
    significant(2),
    meaning="rate for design: over a factor",
    opinion=True,
)
JUDGED = Result("judged", "required", "rate the project requires", opinion=True)
KS = Result(
    "ks_{number}",
    "Ks {number}",
    "conductivity, cylinder {number}",
    "mm/h",
    significant(3),
    basis="ASTM D8152",
    meaning="conductivity at saturation of one place",
    impossible=(0.0001, 50000.0),
    unusual=(0.02, 5000.0),
    takes="clean gravel or tight clay, or seconds typed for minutes",
)
LATE = Result(
    "late_{number}",
    "late {number}",
    "speed of the fall in the last third, cylinder {number}; for comparison",
    "mm/h",
    significant(2),
    meaning="speed of the fall in the last third; for comparison",
)
SUCTION = Result(
    "suction_{number}",
    "C {number}",
    "suction at the front, cylinder {number}",
    "mm",
    WHOLE,
    basis="ASTM D8152",
    meaning="suction at the wetting front",
    impossible=(0.0, 5000.0),
    unusual=(None, 1200.0),
)
