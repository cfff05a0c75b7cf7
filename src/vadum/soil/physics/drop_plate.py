"""The light drop-weight plate: dynamic modulus from the settlement under a falling weight."""

from vadum.soil.physics.published import published


@published("dynamic modulus", "Evd = 1.5 r σ / s, s the mean of three drops", "TP BF-StB part B 8.3; ASTM E2835")
def dynamic_modulus_mpa(radius_mm: float, pressure_kpa: float, settlement_mm: float) -> float:
    """Return Evd in MPa.

    Arguments
    ---------
    radius_mm : of the plate
    pressure_kpa : largest pressure below the plate under a drop, by the calibration: 100 kPa for 10 kg on 300 mm
    settlement_mm : mean amplitude of the measuring drops

    Source: TP BF-StB part B 8.3 (2012): Evd = 1.5 r sigma / s, 22.5 / s for a plate of 300 mm at 0.1 MPa.

    >>> dynamic_modulus_mpa(150.0, 100.0, 0.5)  # 22.5 / 0.5
    45.0
    """
    return 1.5 * radius_mm * pressure_kpa / 1000 / settlement_mm


@published("ratio of settlement to velocity", "s/v in ms, means of three drops", "TP BF-StB part B 8.3")
def settlement_over_velocity_ms(settlement_mm: float, velocity_mm_s: float) -> float:
    """Return s/v in ms from the mean settlement in mm and the mean largest velocity in mm/s.

    Source: TP BF-StB part B 8.3 (2012).

    >>> settlement_over_velocity_ms(0.5, 200.0)
    2.5
    """
    return 1000 * settlement_mm / velocity_mm_s
