"""The dynamic cone: from penetration per blow to a bearing ratio."""

from vadum.soil.choice import Choice
from vadum.soil.physics.published import published


class ConeRelation(Choice):
    """Which published relation makes a bearing ratio of millimetres per blow."""

    D6951 = "astm-d6951", "ASTM D6951, all soils but lean and fat clay"
    D6951_CL = "astm-d6951-cl", "ASTM D6951, lean clay below 10 %"
    D6951_CH = "astm-d6951-ch", "ASTM D6951, fat clay"
    ROAD_NOTE = "road-note-8", "Overseas Road Note 8, cone of 60°"
    KLEYN = "kleyn", "Kleyn (1975), cone of 60°"


class Hammer(Choice):
    """The falling mass."""

    KG_8 = "8-kg", "8 kg"
    KG_4_6 = "4.6-kg", "4.6 kg"


# A blow of the lighter hammer goes half as deep. ASTM D6951 (2018), clause 4.
HAMMER_FACTOR: dict[str, float] = {Hammer.KG_8: 1.0, Hammer.KG_4_6: 2.0}
SOURCE: dict[str, str] = {
    ConeRelation.D6951: "ASTM D6951",
    ConeRelation.D6951_CL: "ASTM D6951",
    ConeRelation.D6951_CH: "ASTM D6951",
    ConeRelation.ROAD_NOTE: "Overseas Road Note 8",
    ConeRelation.KLEYN: "Kleyn (1975)",
}


@published(
    "CBR by the cone",
    "292 / d^1.12; lean clay (0.017019 d)⁻², fat clay 1 / (0.002871 d);"
    " log CBR = 2.48 − 1.057 log d; log CBR = 2.62 − 1.27 log d",
    "ASTM D6951 clause 9; Overseas Road Note 8 (1990); Kleyn (1975)",
)
def cone_ratio_percent(mm_per_blow: float, relation: str = ConeRelation.D6951) -> float:
    """Return the bearing ratio in percent that a relation gives for a penetration in mm per blow of the 8 kg hammer.

    Source: ASTM D6951 (2018), clause 9: 292 / d^1.12; lean clay below 10 % 1 / (0.017019 d)^2; fat clay 1 / (0.002871
    d). Overseas Road Note 8 (1990): log CBR = 2.48 - 1.057 log d. Kleyn (1975): log CBR = 2.62 - 1.27 log d.

    >>> [round(cone_ratio_percent(10.0, relation), 1) for relation in ConeRelation]
    [22.2, 34.5, 34.8, 26.5, 22.4]
    """
    d = mm_per_blow
    if relation == ConeRelation.D6951_CL:
        return (0.017019 * d) ** -2
    if relation == ConeRelation.D6951_CH:
        return 1 / (0.002871 * d)
    if relation == ConeRelation.ROAD_NOTE:
        return 10**2.48 * d**-1.057
    if relation == ConeRelation.KLEYN:
        return 10**2.62 * d**-1.27
    return 292 * d**-1.12
