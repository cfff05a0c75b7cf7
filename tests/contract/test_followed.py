"""A sheet names a standard only as far as it was followed: what was set otherwise stands beside its name."""

import json

import pytest

from vadum.exchange.bench_file import example_of
from vadum.soil.contract.followed import followed
from vadum.soil.registry import METHODS

# What the standards have, from their texts as the trade knows them.
OTHERWISE = [
    ("water-content", {"oven_c": 60}, "ASTM D2216 but for oven temperature 60 °C"),
    ("water-content", {"constant_mass_percent": 1}, "ASTM D2216 but for constant mass within 1 %"),
    ("plastic-limit", {"least_mass_g": 2}, "ASTM D4318 but for least mass of a portion 2 g"),
    ("compaction", {"points_needed": 3}, "ASTM D698 but for least points 3"),
    ("cbr-lab", {"rate_mm_min": 2.5}, "EN 13286-47 but for rate 2.5 mm/min"),
    ("plate-static", {"hold_s": 10, "least_stages": 3}, "DIN 18134 but for hold 10 s and least stages 3"),
    ("plate-static", {"diameter_mm": 160}, "DIN 18134 but for another diameter 160 mm"),
    ("drop-plate", {"diameter_mm": 150}, "TP BF-StB part B 8.3 but for plate 150 mm"),
    ("direct-shear", {"travel_percent": 5}, "ISO 17892-10 but for travel at least 5 %"),
    ("unconfined", {"limit_percent": 10}, "ASTM D2166 but for strain limit 10 %"),
    ("unconfined", {"fastest_percent_min": 10}, "ASTM D2166 but for fastest 10 %/min"),
    ("triaxial", {"least_b": 0.8}, "ISO 17892-9 but for B at least 0.8"),
    ("soakage-pit", {"fills_needed": 1}, "BRE Digest 365 (2016) but for fills 1"),
    ("permeability-laboratory", {"reference_c": 10}, "ASTM D2434 but for water of 10 °C"),
    ("lime-demand", {"read_from_min": 20}, "ASTM D6276 but for read from 20 min"),
    ("cup-inspection", {"drop_tolerance_mm": 1}, "ASTM D4318 but for drop tolerance 1 mm"),
]


@pytest.mark.parametrize(("code", "chosen", "said"), OTHERWISE)
def test_what_is_set_otherwise_than_a_standard_has_it_stands_beside_its_name(code, chosen, said):
    """B of 0.5, stages held for ten seconds and a plate of 160 mm were printed as the standard's own way."""
    bench = json.loads(example_of(code))
    kept = METHODS[code].reduce_raw(bench["readings"], bench["settings"], bench["context"])
    assert not any("but for" in name for name in kept.follows)
    other = METHODS[code].reduce_raw(bench["readings"], bench["settings"] | chosen, bench["context"])
    assert said in other.follows


@pytest.mark.parametrize("method", METHODS.values(), ids=METHODS)
def test_the_settings_a_method_begins_with_are_those_of_its_standards(method):
    assert followed(["a standard"], method.basis, method.Settings()) == ["a standard"]
