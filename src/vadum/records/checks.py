"""A check freezes what was checked, and says when the ground it stands on has moved."""

from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from sqlmodel import Session

from vadum.records.context import footing, tins_in
from vadum.records.footing import Lean
from vadum.records.standing import Standing
from vadum.records.tables import Check, Test, now
from vadum.records.zone import stamp


def freeze(session: Session, test: Test, standing: Standing, who: str, unsettled: Iterable[str] = ()) -> Check:
    """Keep what a test says now, whole; the caller commits."""
    check = Check(
        test_id=test.id or 0,
        revision=test.revision,
        who=who,
        version=standing.version,
        kept=test.kept,
        settings=standing.settings,
        setting_origins=standing.setting_origins,
        origins=standing.origins,
        # Of tins only what counted: not the whole register, nor what stood in them elsewhere on that day.
        context=standing.context
        | ({"tins": _tins_used(standing), "tins_elsewhere": {}} if "tins" in standing.context else {}),
        leans=[asdict(lean) for lean in standing.leans],
        pieces=[asdict(piece) for piece in standing.pieces],
        result=standing.reduction.model_dump(mode="json"),
        unsettled=list(unsettled),
    )
    session.add(check)
    return check


def moved(session: Session, test: Test, check: Check) -> list[str]:
    """Return in words what a checked test leans on and is not any more what it was at the check, or was kept at."""
    now_ = footing(session, test, around=False).leans
    if check.accepted:
        return _differences([Lean(**one) for one in check.accepted["leans"]], now_)
    return [*check.unsettled, *_differences([Lean(**one) for one in check.leans], now_)]


def accept(session: Session, test: Test, check: Check, who: str, reason: str) -> None:
    """Keep a checked result though its ground has moved: noted with who, why, and what has moved; the caller
    commits."""
    check.accepted = {
        "who": who,
        "at": stamp(session, now()),
        "reason": reason,
        "moved": [*check.accepted.get("moved", []), *moved(session, test, check)],
        "leans": [asdict(lean) for lean in footing(session, test, around=False).leans],
    }
    session.add(check)


def _differences(then: list[Lean], now_: list[Lean]) -> list[str]:
    before, after = {lean.key: lean for lean in then}, {lean.key: lean for lean in now_}
    said = []
    for key in dict.fromkeys([*before, *after]):
        old, new = before.get(key), after.get(key)
        if old is None and new is not None:
            said.append(f"{new.words} is there now; there was none when this was checked")
        elif new is None and old is not None:
            said.append(f"{old.words} does not count any more; this was checked with it")
        elif old is not None and new is not None and old.source != new.source:
            said.append(f"{new.words} is now in the place of {old.text} of {old.source}, with which this was checked")
        elif old is not None and new is not None and old.mark != new.mark and old.text == new.text:
            said.append(f"{new.words} is not what it was when this was checked")
        elif old is not None and new is not None and old.mark != new.mark:
            said.append(f"{new.name} of {new.source} is now {new.text}, was {old.text} when this was checked")
    return said


def _tins_used(standing: Standing) -> dict[str, Any]:
    """Return the tares that stand in the readings: the register holds hundreds."""
    tins = standing.context["tins"]
    return {name: tins[name] for name in sorted(tins_in(standing.readings) & tins.keys())}
