"""A sample's way to the bench: who took it and how, what it was like when it came in, what becomes of it."""

from datetime import date
from itertools import pairwise
from typing import Any, Self

from pydantic import Field, model_validator
from sqlmodel import Session

from vadum.records.chosen import beside
from vadum.records.corrections import left_to_others
from vadum.records.duplicates import REFERENCE
from vadum.records.tables import Correction, Sample, now
from vadum.soil.contract.field import Entered, reading

KINDS = ("bag", "tube", "block", "core", "jar", REFERENCE)
LONGEST = 120
PREPARATIONS = ("natural, never dried", "air-dried", "oven-dried")


def _words(label: str, about: str = "") -> Any:
    return Field(default="", title=label, description=about, max_length=LONGEST)


def _day(label: str) -> Any:
    return Field(default=None, title=label)


class Custody(Entered):
    """What is known of a sample besides what its tests find; blank what nobody said."""

    item: str = _words("client's item", "as the client's order numbers it")
    taken_on: date | None = _day("taken on")
    taken_by: str = _words("taken by", "who, and of which firm")
    taken_how: str = _words("how", "pushed tube, by hand from the pit")
    received_on: date | None = _day("received on")
    received_by: str = _words("received by")
    condition: str = _words("condition", "sealed, ends waxed; bag torn")
    preparation: str = _words("preparation", "how it was dried and split before the tests")
    discarded_percent: float | None = reading("discarded", "%", about="by mass", low=0, high=100)
    kept_until: date | None = _day("kept until")
    disposed_on: date | None = _day("disposed of on")

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        days = [
            (Custody.model_fields[name].title, day)
            for name in ("taken_on", "received_on", "disposed_on")
            if (day := getattr(self, name))
        ]
        for (earlier, first), (later, second) in pairwise(days):
            if second < first:
                raise ValueError(f"{later} {second} is before {earlier} {first}")
        return self


def custody_of(sample: Sample) -> Custody:
    """Return what is known of a sample's way."""
    return Custody.model_validate(sample.custody.get("now", {}))


def changes_of(sample: Sample) -> list[dict[str, Any]]:
    """Return who changed what of a sample's way, and when; the newest last."""
    return list(sample.custody.get("trail", []))


def keep_custody(session: Session, sample: Sample, custody: Custody, who: str, seen: int | None = None) -> None:
    """Keep what is known now, with who changed what and when, and commit.

    Arguments
    ---------
    seen : how many changes the hand saw; None where it does not say

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile.
    ValidationError
        If it cannot be beside what somebody else changed meanwhile.
    """
    now_known = custody_of(sample)
    told = enumerate(changes_of(sample), 1)
    known = [Correction(of="custody", row_id=0, id=n, who=one["who"], changed=one["changed"]) for n, one in told]
    was, will = (one.model_dump(mode="json") for one in (now_known, custody))
    custody = beside(now_known, custody, left_to_others(known[::-1], was, will, seen))
    before, after = (one.model_dump(mode="json") for one in (now_known, Custody.model_validate(custody.model_dump())))
    changed = {name: [before[name], after[name]] for name in after if before[name] != after[name]}
    if not changed:
        return
    trail = [*changes_of(sample), {"at": now().isoformat(), "who": who, "changed": changed}]
    sample.custody = {"now": after, "trail": trail}
    session.add(sample)
    session.commit()


def custody_lines(sample: Sample) -> list[list[str]]:
    """Return what a sheet prints of a sample's way: a label and words for each line that anybody filled."""
    one = custody_of(sample)
    discarded = "" if one.discarded_percent is None else f"{one.discarded_percent:g} % discarded"
    left = ["disposed of", _joined(one.disposed_on)] if one.disposed_on else ["kept until", _joined(one.kept_until)]
    lines = [
        ["item", one.item],
        ["taken", _joined(one.taken_on, one.taken_by and f"by {one.taken_by}", one.taken_how)],
        ["received", _joined(one.received_on, one.received_by and f"by {one.received_by}", one.condition)],
        ["preparation", _joined(one.preparation, discarded)],
        left,
    ]
    return [line for line in lines if line[1]]


def _joined(*words: object) -> str:
    return ", ".join(str(word) for word in words if word)
