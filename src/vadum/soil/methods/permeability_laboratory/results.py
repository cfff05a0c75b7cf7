"""What the test gives."""

from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, THOUSANDTH, significant

K = Result(
    "k_ref",
    "k",
    "permeability, {head}, mean of {count}, in water of {reference:g} °C",
    "m/s",
    significant(2),
    basis="ISO 17892-11",
    quantity="permeability",
    card=70,
    meaning="permeability of a specimen",
    impossible=(0.0, 1.0),
    unusual=(1e-11, 0.02),
    takes="open gravel or fat clay, or another unit",
)
GRADIENT = Result("gradient", "i", "hydraulic gradient, {least:.2g} to {most:.2g}", meaning="hydraulic gradients")
LINEARITY = Result(
    "linearity",
    "k high/k low",
    "permeability at the largest gradient over that at the least",
    "",
    HUNDREDTH,
    agreement=True,
)
SPREAD = Result("spread", "spread", "largest difference from the mean", "%", TENTH, agreement=True)
DRY_DENSITY = Result(
    "dry_density",
    "ρd",
    "dry density of the specimen",
    "g/cm³",
    THOUSANDTH,
    impossible=(0.2, 2.9),
    unusual=(1.0, 2.3),
    takes="peat or slag, or a size in another unit",
)
VOID_RATIO = Result("void_ratio", "e", "void ratio, Gs {source}", "", THOUSANDTH, meaning="void ratio of the specimen")
DEGREE = Result(
    "compaction_degree",
    "Dpr",
    "degree of compaction of the specimen, of {source}",
    "%",
    TENTH,
    meaning="degree of compaction of the specimen",
    unusual=(70.0, 108.0),
)
