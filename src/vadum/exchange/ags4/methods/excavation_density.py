"""Fills IDEN."""

from vadum.exchange.ags4.parts import at_depth
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    dry, water = t.value("dry_density"), t.value("water_content")
    bulk = None if dry is None or water is None else dry * (1 + water / 100)
    return [
        (
            "IDEN",
            at_depth(t, "IDEN", t.sample.top_m if t.sample else 0.0)
            | {"IDEN_TYPE": "WATER", "IDEN_IDEN": bulk, "IDEN_MC": t.text("water_content")},
        )
    ]
