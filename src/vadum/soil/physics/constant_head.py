"""A constant head in a hole: shape factors, one head with a class of soil, two heads without, rates for a design.

Lengths in cm, times in minutes, flow in cm3/min, conductivity in cm/min inside this module's arguments.
"""

from dataclasses import dataclass
from math import pi

from vadum.soil.choice import Choice
from vadum.soil.physics.published import published


class SoilClass(Choice):
    """How coarse and structured the soil is, as the constant-head formulas ask."""

    COARSE = "coarse", "coarse sand, gravel"
    LOAM = "loam", "loam, structured clay"
    CLAY = "clay", "clay, unstructured"
    COMPACTED = "compacted-clay", "compacted clay"


# alpha* in 1/cm and the coefficients of C = (x / (p + q x))^e, x = H/a.
# Zhang, Groenevelt and Parkin (1998), Soil Tillage Res. 47; alpha* of Elrick, Reynolds and Tan (1989).
ALPHA: dict[SoilClass, float] = {
    SoilClass.COARSE: 0.36,
    SoilClass.LOAM: 0.12,
    SoilClass.CLAY: 0.04,
    SoilClass.COMPACTED: 0.01,
}
_SHAPES: dict[SoilClass, tuple[float, float, float]] = {
    SoilClass.COARSE: (2.074, 0.093, 0.754),
    SoilClass.LOAM: (2.074, 0.093, 0.754),
    SoilClass.CLAY: (1.992, 0.091, 0.683),
    SoilClass.COMPACTED: (2.081, 0.121, 0.672),
}


@dataclass(frozen=True)
class TwoHeads:
    """Kfs in cm/min, matric flux potential in cm2/min, alpha* in 1/cm; not believable when one of them is negative."""

    kfs_cm_min: float
    potential_cm2_min: float

    @property
    def alpha_per_cm(self) -> float | None:
        return self.kfs_cm_min / self.potential_cm2_min if self.potential_cm2_min > 0 else None

    @property
    def sound(self) -> bool:
        return self.kfs_cm_min > 0 and self.potential_cm2_min > 0


@published(
    "shape factor",
    "C = (x/(2.074 + 0.093x))^0.754; (x/(1.992 + 0.091x))^0.683; (x/(2.081 + 0.121x))^0.672; x = H/a",
    "Zhang, Groenevelt and Parkin (1998)",
)
def shape_factor(head_cm: float, radius_cm: float, soil: SoilClass) -> float:
    """Return C of a hole with a constant head.

    Source: Zhang, Groenevelt and Parkin (1998).

    >>> round(shape_factor(10.0, 5.0, SoilClass.CLAY), 3)  # (2/(1.992 + 0.091 × 2))^0.683
    0.945
    """
    x, (p, q, e) = head_cm / radius_cm, _SHAPES[soil]
    return float((x / (p + q * x)) ** e)


@published("one head", "Kfs = C Q / (2π H² + π a² C + 2π H/α*)", "Elrick, Reynolds and Tan (1989)")
def one_head_cm_min(flow_cm3_min: float, head_cm: float, radius_cm: float, soil: SoilClass) -> float:
    """Return Kfs = C Q / (2 pi H^2 + pi a^2 C + 2 pi H / alpha*). Source: Elrick, Reynolds and Tan (1989).

    >>> round(one_head_cm_min(flow_cm3_min(0.02, 5.0, 3.0, SoilClass.LOAM), 5.0, 3.0, SoilClass.LOAM), 6)
    0.02
    """
    c = shape_factor(head_cm, radius_cm, soil)
    return c * flow_cm3_min / (2 * pi * head_cm**2 + pi * radius_cm**2 * c + 2 * pi * head_cm / ALPHA[soil])


def flow_cm3_min(kfs_cm_min: float, head_cm: float, radius_cm: float, soil: SoilClass) -> float:
    """Return the steady flow into a hole, the inverse of :func:`one_head_cm_min`."""
    return kfs_cm_min / one_head_cm_min(1.0, head_cm, radius_cm, soil)


@published(
    "two heads",
    "Kfs = G2 Q2 − G1 Q1; G1 = H2 C1/(π (2 H1 H2 (H2 − H1) + a² (H1 C2 − H2 C1))), G2 = H1 C2/(same)",
    "Reynolds and Elrick (1986)",
)
def two_heads(
    flows_cm3_min: tuple[float, float], heads_cm: tuple[float, float], radius_cm: float, soil: SoilClass
) -> TwoHeads:
    """Return conductivity and potential from two heads at once; the class enters by the shape factors only.

    G1 = H2 C1 / (pi (2 H1 H2 (H2 - H1) + a^2 (H1 C2 - H2 C1))), G2 = H1 C2 / (same), Kfs = G2 Q2 - G1 Q1. The potential
    comes from 2 pi H / C phi = Q - Kfs (2 pi H^2 / C + pi a^2) at the larger head.
    Source: Reynolds and Elrick (1986), Ground Water Monit. Rev. 6; the same heads rising.

    >>> flows = [flow_cm3_min(0.02, head, 3.0, SoilClass.LOAM) for head in (5.0, 10.0)]
    >>> round(two_heads(flows, (5.0, 10.0), 3.0, SoilClass.LOAM).kfs_cm_min, 6)
    0.02
    """
    (q1, q2), (h1, h2), a = flows_cm3_min, heads_cm, radius_cm
    c1, c2 = shape_factor(h1, a, soil), shape_factor(h2, a, soil)
    under = pi * (2 * h1 * h2 * (h2 - h1) + a**2 * (h1 * c2 - h2 * c1))
    kfs = (h1 * c2 * q2 - h2 * c1 * q1) / under
    potential = (q2 - kfs * (2 * pi * h2**2 / c2 + pi * a**2)) * c2 / (2 * pi * h2)
    return TwoHeads(kfs, potential)


@published(
    "rate by relation", "Kfs = 6·10⁻¹¹ I^3.7363, Kfs in cm/s, I in mm/h", "Ontario supplementary guidelines (1997)"
)
def infiltration_by_relation_mm_h(kfs_cm_s: float) -> float:
    """Return the infiltration rate by the relation Kfs = 6e-11 I^3.7363, Kfs in cm/s and I in mm/h.

    Source: Ontario Ministry of Municipal Affairs and Housing (1997), supplementary guidelines to the building code.

    >>> round(infiltration_by_relation_mm_h(6e-11 * 10**3.7363), 6)
    10.0
    """
    return float((max(kfs_cm_s, 0.0) / 6e-11) ** (1 / 3.7363))


def safety_factor_by_layers(ratio: float) -> float:
    """Return the factor of safety by the ratio of the rate at the base to the least within 1.5 m below.

    1 or less 2.5, to 4 3.5, to 8 4.5, to 16 6.5, beyond 8.5. Source: Wisconsin Department of Natural Resources (2004),
    conservation practice standard 1002, table 2.
    """
    return next((f for bound, f in ((1.0, 2.5), (4.0, 3.5), (8.0, 4.5), (16.0, 6.5)) if ratio <= bound), 8.5)
