"""Fills IVAN."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [
        (
            "IVAN",
            {
                "IVAN_DPTH": row.depth_m,
                "IVAN_TESN": str(t.number),
                "IVAN_DATE": t.on,
                "IVAN_TYPE": "FIELD",
                "IVAN_IVAN": f"{su:.0f}",
                "IVAN_IVAR": None if (left := t.at(f"profile.{i}.remoulded_kpa")) is None else f"{left:.1f}",
            },
        )
        for i, row in enumerate(t.readings.profile)
        if row.depth_m is not None and (su := t.at(f"profile.{i}.su_kpa")) is not None
    ]
