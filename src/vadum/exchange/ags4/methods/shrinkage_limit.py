"""Fills LSLT."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [
        (
            "LSLT",
            {
                "LSLT_SLIM": t.value("shrinkage_limit"),
                "LSLT_SHRA": t.value("shrinkage_ratio"),
                "LSLT_MCI": t.value("water_content"),
            },
        )
    ]
