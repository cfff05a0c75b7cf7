"""What the test gives."""

from dataclasses import replace

from vadum.soil.bench.plunger import report
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE

DRY_DENSITY = Result("dry_density", "ρd", "dry density in the mould", "g/cm³", HUNDREDTH, basis="ASTM D698")
RELATIVE_COMPACTION = Result("relative_compaction", "ρd / max", "share of the maximum dry density", "%", WHOLE)
WATER_CONTENT = Result("water_content", "w", "water content in the mould", "%", TENTH)
SWELL_PERCENT = Result("swell_percent", "swell", "swell while soaking", "%", HUNDREDTH)
CBR = replace(report.CBR, quantity="cbr")
