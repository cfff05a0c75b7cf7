"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

SHRINKAGE_LIMIT = Result(
    "shrinkage_limit",
    "SL",
    "shrinkage limit",
    "%",
    WHOLE,
    basis="ASTM D4943",
    impossible=(0.0, 100.0),
    unusual=(5.0, 35.0),
    takes="a soil of silt or of mica, or a pat with air in it",
    card=11,
)
SHRINKAGE_RATIO = Result(
    "shrinkage_ratio",
    "R",
    "shrinkage ratio",
    "",
    HUNDREDTH,
    basis="ASTM D4943",
    impossible=(0.5, 3.0),
    unusual=(1.2, 2.35),
)
VOLUMETRIC_SHRINKAGE = Result(
    "volumetric_shrinkage",
    "VS",
    "loss of volume from the mould to dry, of the dry volume",
    "%",
    TENTH,
    basis="ASTM D4943",
    impossible=(0.0, 500.0),
)
WATER_CONTENT = Result("water_content", "w", "water content in the mould", "%", TENTH, basis="ASTM D2216")
SPREAD = Result("spread", "Δ", "spread of pats", "%", TENTH, agreement=True)
SHRINKAGE_LIMIT_ESTIMATE = Result(
    "shrinkage_limit_estimate",
    "SL est.",
    "shrinkage limit by the plasticity chart, a guide",
    "%",
    WHOLE,
    basis="Holtz and Kovacs (1981)",
    opinion=True,
)
