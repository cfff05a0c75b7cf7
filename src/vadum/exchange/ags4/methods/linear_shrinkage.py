"""Fills LLIN."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    curved = any(bar.state == "curved" for bar in t.readings.bars if bar.used)
    return [
        (
            "LLIN",
            {"LLIN_LS": t.value("linear_shrinkage"), "LLIN_REM": "Curved bar, mean of both faces" if curved else None},
        )
    ]
