"""The identity card of a sample: what its tests found, in one place, with the one grain-size curve."""

from dataclasses import dataclass

from sqlmodel import Session

from vadum.records.context import Beside, Only, every
from vadum.records.tables import Sample
from vadum.soil.bench.grading.figure import sample_figure
from vadum.soil.contract.figure import Figure, Point
from vadum.soil.physics.grading import Curve, joined

# What the card shows, in its order: method and the parameters taken from it.
_SHOWN: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("water-content", ("water_content",)),
    ("liquid-limit", ("liquid_limit",)),
    ("plastic-limit", ("plastic_limit", "plasticity_index", "liquidity_index")),
    ("particle-density", ("particle_density",)),
    ("ring-density", ("dry_density", "saturation_percent", "void_ratio")),
    ("excavation-density", ("dry_density", "fine_earth_density", "stones_mass_percent")),
    ("compaction", ("maximum_dry_density", "optimum_water_content")),
)
_GRADING = (
    "gravel_percent",
    "sand_percent",
    "fines_percent",
    "clay_percent",
    "d60_mm",
    "d30_mm",
    "d10_mm",
    "uniformity",
    "curvature",
)
_CLASS = ("group_symbol", "group_name", "highway_group", "texture")


@dataclass(frozen=True)
class Fact:
    """One line of the card and the test it came from."""

    symbol: str
    text: str
    unit: str
    test_id: int
    state: str


@dataclass(frozen=True)
class Card:
    """Class, facts and curve of a sample."""

    names: dict[str, Fact]
    facts: list[Fact]
    coarse: Curve
    fine: Curve

    @property
    def has_curve(self) -> bool:
        return len(self.coarse) + len(self.fine) > 1

    def figure(self, company: list[tuple[str, list[Point]]]) -> Figure:
        return sample_figure(self.coarse, self.fine, "unified", company)

    @property
    def curve(self) -> list[Point]:
        return joined(self.coarse, self.fine).points


def card_of(session: Session, sample: Sample, only: Only = every) -> Card:
    """Return the card from the newest reportable test of each method, of those that satisfy ``only``."""
    beside = Beside(session, sample, only)
    taken: list[Fact] = []
    for code, keys in _SHOWN:
        taken += _facts(beside, code, keys).values()
    # The hydrometer's own summary already joins the sieve; without one the sieve speaks alone.
    grading = _facts(beside, "hydrometer", _GRADING) or _facts(beside, "sieve", _GRADING)
    return Card(
        names=_facts(beside, "classification", _CLASS),
        facts=taken + list(grading.values()),
        coarse=_limb(beside, "sieve"),
        fine=_limb(beside, "hydrometer"),
    )


def _facts(beside: Beside, code: str, keys: tuple[str, ...]) -> dict[str, Fact]:
    test = beside.newest(code)
    if test is None and code == "classification":
        # A class still open is worth showing: it says what is possible.
        test = next(iter(beside.live(code)), None)
    if test is None or test.id is None:
        return {}
    values = test.summary.get("parameters", {})
    return {
        k: Fact(
            values[k]["symbol"],
            values[k]["text"],
            values[k]["unit"] if values[k]["reported"] is not None else "",
            test.id,
            test.state,
        )
        for k in keys
        if k in values
    }


def _limb(beside: Beside, code: str) -> Curve:
    test = beside.newest(code)
    points = test.summary.get("curve", []) if test else []
    return Curve.through([d for d, _ in points], [p for _, p in points])
