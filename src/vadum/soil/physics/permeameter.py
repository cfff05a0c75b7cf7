"""Permeability of a specimen in a cell by Darcy's law: constant head, falling head."""

from math import log

from vadum.soil.physics.published import published


@published("permeability, constant head", "k = Q L/(A h t)", "ISO 17892-11; ASTM D2434")
def constant_head_m_s(volume_cm3: float, length_mm: float, area_mm2: float, head_mm: float, seconds: float) -> float:
    """Return k of a specimen through which water flows under a constant head, m/s.

    Arguments
    ---------
    volume_cm3 : water that came through
    length_mm : between the two tubes in which the head is read
    area_mm2 : of the specimen
    head_mm : difference of the two tubes
    seconds : in which it came

    >>> round(constant_head_m_s(100.0, 100.0, 5000.0, 50.0, 60.0) * 1e6, 1)  # 0.333 mm/s under a gradient of 0.5
    666.7
    """
    return 1000 * volume_cm3 * length_mm / (area_mm2 * head_mm * seconds) / 1000


@published("permeability, falling head", "k = a L/(A t) ln(h1/h2)", "ISO 17892-11")
def falling_head_m_s(
    tube_mm2: float, length_mm: float, area_mm2: float, heads_mm: tuple[float, float], seconds: float
) -> float:
    """Return k of a specimen through which the water of a tube runs out, m/s.

    Arguments
    ---------
    tube_mm2 : section of the tube
    length_mm, area_mm2 : of the specimen
    heads_mm : above the outflow, before and after
    seconds : between the two

    >>> round(falling_head_m_s(50.0, 100.0, 5000.0, (1000.0, 500.0), 600.0) * 1e6, 3)  # 1e-3 mm/s × ln 2 × 100/60
    1.155
    """
    before, after = heads_mm
    return tube_mm2 * length_mm / (area_mm2 * seconds) * log(before / after) / 1000
