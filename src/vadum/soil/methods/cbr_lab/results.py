"""What the test gives."""

from dataclasses import replace

from vadum.soil.bench.plunger import report
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

BULK_DENSITY = Result(
    "bulk_density",
    "ρ",
    "bulk density in the mould, as compacted",
    "g/cm³",
    HUNDREDTH,
    basis="ASTM D698",
    impossible=(1.0, 2.9),
)
WATER_SOAKED = Result(
    "water_content_soaked",
    "w soaked",
    "water content below the plunger after soaking",
    "%",
    TENTH,
    impossible=(0.0, 200.0),
)
BULK_SOAKED = Result(
    "bulk_density_soaked", "ρ soaked", "bulk density after soaking and swell", "g/cm³", HUNDREDTH, impossible=(1.0, 2.9)
)
DRY_SOAKED = Result(
    "dry_density_soaked", "ρd soaked", "dry density after swell", "g/cm³", HUNDREDTH, impossible=(0.5, 2.8)
)
DRY_DENSITY = Result(
    "dry_density",
    "ρd",
    "dry density in the mould",
    "g/cm³",
    HUNDREDTH,
    basis="ASTM D698",
    impossible=(0.5, 2.8),
    unusual=(1.2, 2.4),
    takes="organic soil, ash or heavy gravel",
)
RELATIVE_COMPACTION = Result(
    "relative_compaction",
    "ρd / max",
    "share of the maximum dry density",
    "%",
    WHOLE,
    impossible=(30.0, 125.0),
    unusual=(80.0, 106.0),
)
WATER_CONTENT = Result(
    "water_content",
    "w",
    "water content in the mould",
    "%",
    TENTH,
    impossible=(0.0, 200.0),
    unusual=(3.0, 45.0),
    takes="peat, very soft clay or dry sand",
)
SWELL_PERCENT = Result(
    "swell_percent", "swell", "swell while soaking", "%", HUNDREDTH, impossible=(-5.0, 40.0), unusual=(-0.3, 10.0)
)
CBR = replace(report.CBR, quantity="cbr")
