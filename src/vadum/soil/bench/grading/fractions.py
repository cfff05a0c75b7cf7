"""Fractions: where clay, silt, sand, gravel and cobbles part, in the two common conventions."""

from vadum.soil.choice import Choice
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.numbers.rounding import TENTH, significant
from vadum.soil.physics.grading import Curve, curvature, uniformity


class Convention(Choice):
    """Where the fractions end."""

    UNIFIED = "unified"
    ISO = "iso", "ISO 14688"


D10_MM = Result("d10_mm", "D10", "diameter at 10 % finer", "mm", significant(3), quantity="d10_mm", card=26)
D15_MM = Result("d15_mm", "D15", "diameter at 15 % finer", "mm", significant(3))
D30_MM = Result("d30_mm", "D30", "diameter at 30 % finer", "mm", significant(3), card=25)
D50_MM = Result("d50_mm", "D50", "diameter at 50 % finer", "mm", significant(3))
D60_MM = Result("d60_mm", "D60", "diameter at 60 % finer", "mm", significant(3), card=24)
D85_MM = Result("d85_mm", "D85", "diameter at 85 % finer", "mm", significant(3))
UNIFORMITY = Result(
    "uniformity", "Cu", "coefficient of uniformity", "", significant(2), basis="ASTM D2487 clause 8", card=27
)
CURVATURE = Result(
    "curvature", "Cc", "coefficient of curvature", "", significant(2), basis="ASTM D2487 clause 8", card=28
)
OF_WHAT_PASSES = Result(
    "{name}_below_cobbles_percent",
    "{name} of rest",
    "{name} as a share of what passes {cobble} mm",
    "%",
    TENTH,
    meaning="what a class is drawn by, where part of the soil is cobbles",
    impossible=(0.0, 100.0),
)
COBBLES = Result(
    "cobbles_percent",
    "cobbles",
    "above {cobble} mm",
    "%",
    TENTH,
    meaning="particles above the upper bound of gravel",
    impossible=(0.0, 100.0),
)
GRAVEL = Result(
    "gravel_percent",
    "gravel",
    "{gravel} to {cobble} mm",
    "%",
    TENTH,
    quantity="gravel_percent",
    card=20,
    meaning="particles between the upper bounds of sand and of gravel",
    impossible=(0.0, 100.0),
)
SAND = Result(
    "sand_percent",
    "sand",
    "{fines} to {gravel} mm",
    "%",
    TENTH,
    quantity="sand_percent",
    card=21,
    meaning="particles between the upper bounds of fines and of sand",
    impossible=(0.0, 100.0),
)
FINES = Result(
    "fines_percent",
    "fines",
    "below {fines} mm",
    "%",
    TENTH,
    quantity="fines_percent",
    card=22,
    meaning="particles below the lower bound of sand",
    impossible=(0.0, 100.0),
)
CLAY = Result(
    "clay_percent",
    "clay size",
    "below 0.002 mm",
    "%",
    TENTH,
    quantity="clay_percent",
    card=23,
    impossible=(0.0, 100.0),
    unusual=(None, 85.0),
)
SHARES = {one.key: one for one in (COBBLES, GRAVEL, SAND, FINES, CLAY)}


# Name, lower and upper bound in mm. ASTM D2487 (2017) clause 3 and ISO 14688-1 (2017) table 1.
FRACTIONS: dict[Convention, tuple[tuple[str, float, float], ...]] = {
    Convention.UNIFIED: (
        ("clay size", 0.0, 0.002),
        ("silt size", 0.002, 0.075),
        ("fine sand", 0.075, 0.425),
        ("medium sand", 0.425, 2.0),
        ("coarse sand", 2.0, 4.75),
        ("fine gravel", 4.75, 19.0),
        ("coarse gravel", 19.0, 75.0),
        ("cobbles", 75.0, 300.0),
    ),
    Convention.ISO: (
        ("clay", 0.0, 0.002),
        ("silt", 0.002, 0.063),
        ("fine sand", 0.063, 0.2),
        ("medium sand", 0.2, 0.63),
        ("coarse sand", 0.63, 2.0),
        ("fine gravel", 2.0, 6.3),
        ("medium gravel", 6.3, 20.0),
        ("coarse gravel", 20.0, 63.0),
        ("cobbles", 63.0, 200.0),
    ),
}
_BOUNDS = {Convention.UNIFIED: (75.0, 4.75, 0.075), Convention.ISO: (63.0, 2.0, 0.063)}
D_PERCENT = (10.0, 30.0, 60.0)
"""The percentages that a class and a filter lean on."""
_D = {"10": D10_MM, "15": D15_MM, "30": D30_MM, "50": D50_MM, "60": D60_MM, "85": D85_MM}


def fines_bound_mm(convention: Convention) -> float:
    """Return the diameter in mm below which particles are fines."""
    return _BOUNDS[convention][-1]


def main_shares(curve: Curve, convention: Convention) -> dict[str, float]:
    """Return percent of dry mass that is cobbles, gravel, sand, fines and clay size; only what the curve reaches."""
    cobble, gravel, fines = (curve.finer_at(bound) for bound in _BOUNDS[convention])
    clay = curve.finer_at(0.002)
    shares: dict[str, float | None] = {
        "cobbles_percent": None if cobble is None else 100.0 - cobble,
        "gravel_percent": None if cobble is None or gravel is None else cobble - gravel,
        "sand_percent": None if gravel is None or fines is None else gravel - fines,
        "fines_percent": fines,
        "clay_percent": clay,
    }
    return {name: share for name, share in shares.items() if share is not None}


def below_cobbles(curve: Curve, convention: Convention, basis: str) -> list[Parameter]:
    """Return the shares of what passes the cobbles' bound, where some of the soil does not: a class is drawn by them.

    The shares without that name are of the whole specimen.
    """
    shares, bound = main_shares(curve, convention), _BOUNDS[convention][0]
    rest = 100.0 - shares.get("cobbles_percent", 0.0)
    if not 0.0 < rest < 99.95:
        return []
    named = {
        name: share for name in ("gravel", "sand", "fines") if (share := shares.get(f"{name}_percent")) is not None
    }
    return [
        OF_WHAT_PASSES.of(100.0 * share / rest, basis=basis, name=name, cobble=f"{bound:g}")
        for name, share in named.items()
    ]


def grading_parameters(curve: Curve, convention: Convention, basis: str) -> list[Parameter]:
    """Return D-values, coefficients and shares of a curve, as far as it reaches."""
    found: dict[str, float] = {p: d for p in _D if (d := curve.diameter_at(float(p))) is not None}
    parameters = [_D[p].of(d, basis=basis) for p, d in found.items()]
    if "10" in found and "60" in found:
        cu = uniformity(found["10"], found["60"])
        parameters.append(UNIFORMITY.of(cu))
        if "30" in found:
            cc = curvature(found["10"], found["30"], found["60"])
            parameters.append(CURVATURE.of(cc))
    cobble, gravel, fines = (f"{bound:g}" for bound in _BOUNDS[convention])
    parameters += [
        SHARES[key].of(share, basis=basis, cobble=cobble, gravel=gravel, fines=fines)
        for key, share in main_shares(curve, convention).items()
    ]
    return parameters
