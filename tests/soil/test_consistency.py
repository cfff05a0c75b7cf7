"""The second pair of eyes: quiet on sites where everything fits, awake where two results cannot both be right."""

import numpy as np
import pytest

from vadum.soil.physics.phases import saturated_dry_density
from vadum.soil.site.consistency import _BEARING, Fact, consistency


def facts(**values):
    return {name: Fact(value, f"test {i}") for i, (name, value) in enumerate(values.items(), 1)}


def codes(group="", **values):
    return [f.code for f in consistency(facts(**values), group)]


def a_site(rng):
    """Return believable results of one soil that follow the relations with their usual scatter."""
    grains, voids = rng.uniform(2.6, 2.8), rng.uniform(0.3, 1.4)
    optimum, clay, liquidity = rng.uniform(8, 25), rng.uniform(5, 70), rng.uniform(-0.2, 1.5)
    vane, d10 = rng.uniform(10, 200), 10 ** rng.uniform(np.log10(0.06), np.log10(3))
    group = str(rng.choice(sorted(_BEARING.keys() - {"PT"})))
    low, high = _BEARING[group]
    return group, {
        "particle_density": grains,
        "dry_density": 0.998 * grains / (1 + voids),
        "water_content": rng.uniform(40, 100) * voids / grains,
        "optimum_water_content": optimum,
        "maximum_dry_density": saturated_dry_density(optimum, grains) * rng.uniform(0.9, 0.98),
        "clay_percent": clay,
        "plasticity_index": clay * rng.uniform(0.3, 2.0),
        "liquidity_index": liquidity,
        "su_remoulded": 170 * np.exp(-4.6 * liquidity) * 3 ** rng.uniform(-1, 1),
        "su_vane": vane,
        "su_unconfined": vane * rng.uniform(0.4, 1.6),
        "cbr": rng.uniform(2 * low, high / 2),
        "d10_mm": d10,
        "conductivity": 3.6e6 * 0.01 * d10**2 * 10 ** rng.uniform(-1.5, 1.5),
    }


def test_two_hundred_sites_that_fit_raise_nothing():
    for seed in range(200):
        group, site = a_site(np.random.default_rng(seed))
        assert codes(group, **site) == [], (seed, site)


@pytest.mark.parametrize(
    ("change", "code"),
    [
        (
            lambda s: (
                s
                | {"water_content": 1.3 * 100 * (s["particle_density"] / s["dry_density"] - 1) / s["particle_density"]}
            ),
            "overfull",
        ),
        (lambda s: s | {"dry_density": 2.9}, "denser-than-grains"),
        (
            lambda s: s | {"particle_density": 2.3, "maximum_dry_density": 2.2, "optimum_water_content": 12},
            "optimum-beyond-zero-air",
        ),
        (lambda s: s | {"plasticity_index": 60, "clay_percent": 6}, "activity"),
        (lambda s: s | {"plasticity_index": 5, "clay_percent": 60}, "activity"),
        (lambda s: s | {"liquidity_index": 1.0, "su_remoulded": 60}, "remoulded-against-liquidity"),
        (lambda s: s | {"su_vane": 20, "su_unconfined": 95}, "two-strengths"),
        (lambda s: s | {"cbr": 300}, "bearing-against-class"),
        (lambda s: s | {"d10_mm": 0.5, "conductivity": 0.36}, "conductivity-against-grading"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_each_contradiction_is_found_on_every_site(change, code):
    for seed in range(20):
        group, site = a_site(np.random.default_rng(seed))
        assert code in codes(group, **change(site)), seed


def test_a_finding_names_both_numbers_their_tests_and_the_relation():
    [found] = consistency(facts(dry_density=1.6, water_content=30.0, particle_density=2.7))
    # e = 2.7 x 0.9982 / 1.6 - 1 = 0.6845; S = 30 x 2.7 / 0.6845 = 118 %.
    assert found.severity == "warn"
    for words in ("30.0 % (test 2)", "1.60 g/cm³ (test 1)", "S = w Gs / e = 118 %", "2.70 (test 3)"):
        assert words in found.message
    assert found.action


def test_what_is_not_known_is_not_judged():
    _, site = a_site(np.random.default_rng(1))
    for name, value in site.items():
        assert codes("CL", **{name: value}) in ([], ["bearing-against-class"])
    assert codes("", cbr=300) == []
    assert codes("CL-ML", cbr=12) == []
    assert codes("SW-SM", cbr=300) == ["bearing-against-class"]
