"""Fills LLPL, with the plastic limit of the sample in one row."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    school = t.settings.school
    cone = {"LLPL_TYPE": "FALL CONE", "LLPL_CONE": "80g/30deg"}
    return [
        (
            "LLPL",
            (cone if school == "fall-cone" else {"LLPL_TYPE": "CASAGRANDE"})
            | {
                "LLPL_LL": t.value("liquid_limit"),
                "LLPL_POIN": "ONE" if school in ("one-point", "replicated") else None,
                "LLPL_REM": None if t.value("liquid_limit") is not None else t.text("liquid_limit"),
            },
        )
    ]
