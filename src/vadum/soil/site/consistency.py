"""A second pair of eyes: tests of one sample and of the ground it came from, held against one another.

A rule speaks only when two results cannot both be right, or lie outside a wide published range: it names both numbers,
where they came from and the relation it used. It never says which of the two is wrong.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from math import exp

from vadum.soil.contract.finding import Finding, warn
from vadum.soil.physics.phases import saturated_dry_density, saturation_percent, void_ratio

# Above this no rounding of densities and water contents explains more water than voids, percent.
_OVERFULL = 105.0
# Activity of clays from kaolinite, 0.4, to sodium montmorillonite, 7 (Skempton 1953; Mitchell and Soga 2005), with a
# margin.
_ACTIVITY = (0.15, 8.0)
# Remoulded strength by the liquidity index scatters by about this factor (Wroth and Wood 1978), with a margin.
_REMOULDED = 6.0
_STRENGTHS = 4.0
# Soaked bearing ratio in percent by unified class as in published design tables (UFC 3-250-01), least halved, most
# doubled.
_BEARING = {
    "GW": (20, 160),
    "GP": (15, 120),
    "GM": (10, 120),
    "GC": (10, 80),
    "SW": (10, 80),
    "SP": (5, 80),
    "SM": (5, 80),
    "SC": (2, 40),
    "ML": (1, 30),
    "CL": (1, 30),
    "OL": (1, 10),
    "MH": (1, 20),
    "CH": (1, 30),
    "OH": (1, 10),
    "PT": (0, 4),
}
# Conductivity by D10 scatters by less than this factor about Hazen's relation in sands of its range.
_HAZEN = 300.0
_MM_H = 3.6e6  # mm/h in one m/s
_LOOK = "Look at both sheets: one of the two is wrong, or they are not of the same soil. Repeat the cheaper one."


DENSER_THAN_GRAINS = warn(
    "denser-than-grains", "Dry density {dry} leaves no voids between grains of Gs {grains}.", _LOOK
)
OVERFULL = warn(
    "overfull", "Water content {water} and dry density {dry} give S = w Gs / e = {full:.0f %} with Gs {grains}.", _LOOK
)
OPTIMUM_BEYOND_ZERO_AIR = warn(
    "optimum-beyond-zero-air",
    "Largest dry density {dry} at {water} lies above {most:.2f g/cm³}, the zero-air line for Gs {grains}.",
    _LOOK,
)
ACTIVITY = warn(
    "activity",
    "PI {index} and clay {clay} give an activity PI / clay of {activity:.2f}; clays have {least:g} to {most:g}.",
    _LOOK,
)
REMOULDED_AGAINST_LIQUIDITY = warn(
    "remoulded-against-liquidity",
    "Remoulded vane strength {left} at a liquidity index of {index}; 170 exp(-4.6 LI) is {expected:.1f kPa}.",
    _LOOK,
)
TWO_STRENGTHS = warn(
    "two-strengths", "Vane {vane} and unconfined {pressed} of one depth differ {factor:.1f} times.", _LOOK
)
BEARING_AGAINST_CLASS = warn(
    "bearing-against-class", "CBR {ratio} of a {group_symbol}; such soils have {low} to {high} %.", _LOOK
)
CONDUCTIVITY_AGAINST_GRADING = warn(
    "conductivity-against-grading",
    "Ks {m_s:.1e m/s} ({source}) with D10 {size}; 0.01 D10² is {expected:.1e m/s}.",
    _LOOK,
)

# What the rules ask of the sample itself, by quantity.
OF_SAMPLE = (
    "dry_density",
    "water_content",
    "particle_density",
    "maximum_dry_density",
    "optimum_water_content",
    "plasticity_index",
    "liquidity_index",
    "clay_percent",
    "cbr",
    "su_unconfined",
    "d10_mm",
)


@dataclass(frozen=True)
class Fact:
    """A result of another test, with where it came from (``test 12``)."""

    value: float
    source: str

    def said(self, unit: str = "", decimals: int = 2) -> str:
        return f"{self.value:.{decimals}f}{f' {unit}' if unit else ''} ({self.source})"


Facts = Mapping[str, Fact]
Rule = Callable[[Facts, str], Iterator[Finding]]


def consistency(facts: Facts, group_symbol: str = "") -> list[Finding]:
    """Return a finding for every pair of results that contradict each other.

    Arguments
    ---------
    facts : results by quantity: those of ``OF_SAMPLE``, su_vane and su_remoulded (kPa, of the sample's depth) and
        conductivity (mm/h, at the surface); what is not known is left out
    group_symbol : unified class, "" when it is open
    """
    return [finding for rule in _RULES for finding in rule(facts, group_symbol)]


def _overfull(facts: Facts, _: str) -> Iterator[Finding]:
    """S = w Gs / e above 100 %. Source: ASTM D7263 (2021), clause 10."""
    dry, water, grains = (facts.get(n) for n in ("dry_density", "water_content", "particle_density"))
    if not (dry and water and grains):
        return
    voids = void_ratio(dry.value, grains.value)
    if voids <= 0:
        yield DENSER_THAN_GRAINS.at(dry=dry.said("g/cm³"), grains=grains.said())
    elif (full := saturation_percent(water.value, grains.value, voids)) > _OVERFULL:
        yield OVERFULL.at(water=water.said("%", 1), dry=dry.said("g/cm³"), full=full, grains=grains.said())


def _beyond_zero_air(facts: Facts, _: str) -> Iterator[Finding]:
    """The optimum lies above the zero-air line. Source: ASTM D698 (2021), clause 11."""
    dry, water, grains = (facts.get(n) for n in ("maximum_dry_density", "optimum_water_content", "particle_density"))
    if dry and water and grains:
        most = saturated_dry_density(water.value, grains.value)
        if dry.value > 1.01 * most:
            yield OPTIMUM_BEYOND_ZERO_AIR.at(
                dry=dry.said("g/cm³"), water=water.said("%", 1), most=most, grains=grains.said()
            )


def _activity(facts: Facts, _: str) -> Iterator[Finding]:
    """A = PI / clay share. Source: Skempton (1953)."""
    index, clay = facts.get("plasticity_index"), facts.get("clay_percent")
    if index and clay and clay.value >= 5:
        activity = index.value / clay.value
        if not _ACTIVITY[0] <= activity <= _ACTIVITY[1]:
            yield ACTIVITY.at(
                index=index.said("%", 0),
                clay=clay.said("%", 0),
                activity=activity,
                least=_ACTIVITY[0],
                most=_ACTIVITY[1],
            )


def _remoulded(facts: Facts, _: str) -> Iterator[Finding]:
    """su remoulded = 170 exp(-4.6 LI) kPa. Source: Wroth and Wood (1978)."""
    index, left = facts.get("liquidity_index"), facts.get("su_remoulded")
    if index and left and left.value > 0 and -0.2 <= index.value <= 1.8:
        expected = 170.0 * exp(-4.6 * index.value)
        if not 1 / _REMOULDED <= left.value / expected <= _REMOULDED:
            yield REMOULDED_AGAINST_LIQUIDITY.at(left=left.said("kPa", 1), index=index.said(), expected=expected)


def _two_strengths(facts: Facts, _: str) -> Iterator[Finding]:
    """Vane and unconfined compression of the same depth; disturbance halves the one, fissures the other."""
    vane, pressed = facts.get("su_vane"), facts.get("su_unconfined")
    if vane and pressed and vane.value > 0 and pressed.value > 0:
        factor = max(vane.value / pressed.value, pressed.value / vane.value)
        if factor > _STRENGTHS:
            yield TWO_STRENGTHS.at(vane=vane.said("kPa", 0), pressed=pressed.said("kPa", 0), factor=factor)


def _bearing(facts: Facts, group_symbol: str) -> Iterator[Finding]:
    """Bearing ratio against the range of its class. Source: UFC 3-250-01, table of soil characteristics."""
    ratio = facts.get("cbr")
    ranges = [_BEARING[s] for s in group_symbol.replace("/", "-").split("-") if s in _BEARING]
    if ratio and ranges:
        low, high = min(r[0] for r in ranges), max(r[1] for r in ranges)
        if not low <= ratio.value <= high:
            yield BEARING_AGAINST_CLASS.at(ratio=ratio.said("%", 0), group_symbol=group_symbol, low=low, high=high)


def _conductivity(facts: Facts, _: str) -> Iterator[Finding]:
    """k = 0.01 D10^2 m/s, D10 in mm, for sands of 0.06 to 3 mm. Source: Hazen (1892)."""
    size, ks = facts.get("d10_mm"), facts.get("conductivity")
    if size and ks and ks.value > 0 and 0.06 <= size.value <= 3:
        expected = 0.01 * size.value**2
        m_s = ks.value / _MM_H
        if not 1 / _HAZEN <= m_s / expected <= _HAZEN:
            yield CONDUCTIVITY_AGAINST_GRADING.at(m_s=m_s, source=ks.source, size=size.said("mm", 3), expected=expected)


_RULES: tuple[Rule, ...] = (_overfull, _beyond_zero_air, _activity, _remoulded, _two_strengths, _bearing, _conductivity)
