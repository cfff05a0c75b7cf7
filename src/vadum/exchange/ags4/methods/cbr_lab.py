"""Fills CBRG and CBRT."""

from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.physics.water import GRAVITY_CM_S2


def fill(t: Sent) -> list[Row]:
    return [
        (
            "CBRG",
            {"CBRG_COND": "REMOULDED", "CBRG_NMC": t.text("water_content"), "CBRG_200": t.readings.removed_percent},
        ),
        (
            "CBRT",
            {
                "CBRT_TESN": str(t.number),
                "CBRT_TOP": _larger(t, "top"),
                "CBRT_BASE": _larger(t, "bottom"),
                "CBRT_IMC": t.text("water_content"),
                "CBRT_BDEN": t.value("bulk_density"),
                "CBRT_DDEN": t.value("dry_density"),
                "CBRT_SURC": _surcharge_kpa(t),
                "CBRT_SKDT": t.settings.soaking,
                "CBRT_SWEL": _swell_mm(t),
            },
        ),
    ]


def _surcharge_kpa(t: Sent) -> float | None:
    """Return the pressure of the surcharge on the specimen, whose area is its volume over its height."""
    mass, volume, height = t.readings.surcharge_kg, t.readings.volume_mould_cm3, t.readings.height_specimen_mm
    return mass * GRAVITY_CM_S2 / 100 * height / volume if mass is not None and volume and height else None


def _swell_mm(t: Sent) -> float | None:
    """Return how far the dial came while the specimen soaked."""
    read = [row.dial_mm for row in t.readings.swell if row.used and row.dial_mm is not None]
    return read[-1] - read[0] if len(read) > 1 and t.value("swell_percent") is not None else None


def _larger(t: Sent, end: str) -> float | None:
    """Return the larger of the two ratios of one end, by definition its bearing ratio."""
    found = [v for depth in ("2_5", "5") if (v := t.value(f"cbr_{end}_{depth}_mm")) is not None]
    return max(found, default=None)
