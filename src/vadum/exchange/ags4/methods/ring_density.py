"""Fills LDEN."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [
        (
            "LDEN",
            {
                "LDEN_TYPE": "LINEAR",
                "LDEN_MC": t.text("water_content"),
                "LDEN_BDEN": t.value("bulk_density"),
                "LDEN_DDEN": t.value("dry_density"),
            },
        )
    ]
