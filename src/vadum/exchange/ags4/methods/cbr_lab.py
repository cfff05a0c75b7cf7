"""Fills CBRG and CBRT."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [
        ("CBRG", {"CBRG_COND": "REMOULDED", "CBRG_NMC": t.text("water_content")}),
        (
            "CBRT",
            {
                "CBRT_TESN": str(t.number),
                "CBRT_TOP": _larger(t, "top"),
                "CBRT_BASE": _larger(t, "bottom"),
                "CBRT_IMC": t.text("water_content"),
                "CBRT_DDEN": t.value("dry_density"),
                "CBRT_SKDT": t.settings.soaking,
            },
        ),
    ]


def _larger(t: Sent, end: str) -> float | None:
    """Return the larger of the two ratios of one end, by definition its bearing ratio."""
    found = [v for depth in ("2_5", "5") if (v := t.value(f"cbr_{end}_{depth}_mm")) is not None]
    return max(found, default=None)
