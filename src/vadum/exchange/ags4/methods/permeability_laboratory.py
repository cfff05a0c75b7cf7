"""Fills PTST."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    r = t.readings
    values = {
        "PTST_COND": "REMOULDED",
        "PTST_DIAM": r.diameter_mm,
        "PTST_LEN": r.length_mm,
        "PTST_DDEN": t.value("dry_density"),
        "PTST_VOID": t.value("void_ratio"),
        "PTST_K": t.value("k_ref"),
    }
    return [("PTST", values)]
