"""Before the plunger touches: what the reaction can measure, which ring and seating, and whether it is safe to
begin."""

from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.methods.cbr_in_situ.readings import CbrInSituReadings, CbrInSituSettings
from vadum.soil.physics import bearing as eq

_CHECKS = (
    (
        "on_stands",
        "unsupported",
        "The vehicle rests on its springs.",
        "Jack it up onto stands before anybody reaches below; nobody under it.",
    ),
    (
        "chocked",
        "not-chocked",
        "The vehicle is not chocked.",
        "Brakes on, wheels chocked, level ground, before the jack takes load.",
    ),
    ("services_clear", "services-unknown", "Cables and pipes are not located.", "Stop until the services are located."),
)
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
    found = [
        stop(code, message, action, name) for name, code, message, action in _CHECKS if getattr(readings, name) == "no"
    ]
    if readings.datum_outside == "no":
        found.append(
            warn(
                "datum-near",
                "The datum bar stands where the ground settles.",
                "Move its feet away: it may touch neither vehicle nor surcharge.",
                "datum_outside",
            )
        )
    if readings.coarse_below == "yes":
        found.append(
            stop(
                "too-coarse",
                "Stones above 20 mm lie under the plunger.",
                "Move the plunger, or test with a plate instead.",
                "coarse_below",
            )
        )
    expected, most = readings.expected_percent, largest_percent(readings, settings)
    if expected is None:
        return found
    if most is not None and expected > most:
        found.append(
            warn(
                "reaction-small",
                f"{readings.reaction_kn:g} kN of reaction measures up to CBR {most:.0f} %; {expected:g} % is expected.",
                "Load the vehicle, or take a heavier one.",
                "reaction_kn",
            )
        )
    if ring is not None:
        force = expected / 100 * eq.STANDARD_FORCE_KN[settings.school][1][1]
        share = force / ring[-1][1]
        if not _WELL[0] <= share <= _WELL[1] and readings.ring_factor_n_div is None:
            found.append(
                warn(
                    "ring-choice",
                    f"{force:.1f} kN at 5 mm is {100 * share:.0f} % of the ring's {ring[-1][1]:g} kN.",
                    f"Take a {'stronger' if share > _WELL[1] else 'weaker'} ring.",
                    "expected_percent",
                )
            )
    return found


def plan_words(readings: CbrInSituReadings, settings: CbrInSituSettings) -> str:
    """Return the set-up in one sentence."""
    most = largest_percent(readings, settings)
    if most is None:
        return "Weigh or estimate what the vehicle can hold down at the jack; it limits the ratio that can be measured."
    expected = readings.expected_percent
    seat = f" Seat with {eq.seating_force_n(expected):g} N." if expected is not None else " Say which CBR is expected."
    return f"The reaction measures up to CBR {most:.0f} %.{seat} Stands, chocks, datum bar and services first."
