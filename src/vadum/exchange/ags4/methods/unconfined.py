"""Fills LUCT."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [
        (
            "LUCT",
            {
                "LUCT_TYPE": "UNDISTURBED",
                "LUCT_IWC": t.text("water_content"),
                "LUCT_BDEN": t.value("bulk_density"),
                "LUCT_DDEN": t.value("dry_density"),
                "LUCT_UCS": t.value("qu"),
                "LUCT_STRA": t.value("strain_percent"),
            },
        )
    ]
