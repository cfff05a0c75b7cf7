"""Before the plunger touches: what the reaction can measure, which ring and seating, and whether it is safe to
begin."""

from vadum.soil.bench.plunger.readings import ForceRead
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.cbr_in_situ.findings import (
    DATUM_NEAR,
    NOT_CHOCKED,
    REACTION_SMALL,
    RING_CHOICE,
    SERVICES_UNKNOWN,
    TOO_COARSE,
    UNSUPPORTED,
)
from vadum.soil.methods.cbr_in_situ.readings import CbrInSituReadings, CbrInSituSettings
from vadum.soil.physics import bearing as eq

_CHECKS = {"on_stands": UNSUPPORTED, "chocked": NOT_CHOCKED, "services_clear": SERVICES_UNKNOWN}
# A ring is read well between a tenth and nine tenths of its range.
_WELL = (0.1, 0.9)


def largest_percent(readings: CbrInSituReadings, settings: CbrInSituSettings) -> float | None:
    """Return the largest ratio the reaction can be pressed to, None while it is unknown."""
    if readings.reaction_kn is None:
        return None
    return eq.largest_measurable_percent(readings.reaction_kn, settings.school)


def setup_findings(
    readings: CbrInSituReadings, settings: CbrInSituSettings, ring: list[tuple[float, float]] | None
) -> list[Finding]:
    """Return what speaks against beginning, and what the plan cannot measure."""
    found = [doubt.at(name) for name, doubt in _CHECKS.items() if getattr(readings, name) == "no"]
    if readings.datum_outside == "no":
        found.append(DATUM_NEAR.at("datum_outside"))
    if readings.coarse_below == "yes":
        found.append(TOO_COARSE.at("coarse_below"))
    expected, most = readings.expected_percent, largest_percent(readings, settings)
    if expected is None:
        return found
    if most is not None and expected > most:
        found.append(REACTION_SMALL.at("reaction_kn", reaction_kn=readings.reaction_kn, most=most, expected=expected))
    if ring is not None:
        force = expected / 100 * eq.STANDARD_FORCE_KN[settings.school][1][1]
        share = force / ring[-1][1]
        by_ring = settings.force_read == ForceRead.RING and readings.ring_factor_n_div is None
        if by_ring and not _WELL[0] <= share <= _WELL[1]:
            found.append(
                RING_CHOICE.at(
                    "expected_percent",
                    force=force,
                    percent=100 * share,
                    kn=ring[-1][1],
                    size="stronger" if share > _WELL[1] else "weaker",
                )
            )
    return found


def plan_words(readings: CbrInSituReadings, settings: CbrInSituSettings) -> str:
    """Return the set-up in one sentence."""
    most = largest_percent(readings, settings)
    if most is None:
        return "Weigh or estimate what the vehicle can hold down at the jack; it limits the ratio that can be measured."
    expected = readings.expected_percent
    seat = (
        f" Seat with {eq.seating_force_n(expected, settings.school):g} N."
        if expected is not None
        else " Say which CBR is expected."
    )
    return f"The reaction measures up to CBR {most:.0f} %.{seat} Stands, chocks, datum bar and services first."
