"""Constant mass: a tin is weighed dry again until it loses nothing more. Water content lives by it; limits, rings,
holes and moulds may ask for it too."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import Field

from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.field import REQUIRED, Readings, Row, Shown, reading, remark, setting, shown_only
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.reduction import Reduction
from vadum.soil.physics.moisture import mass_change_percent

CONSTANT_PERCENT = 0.1
"""Change between two weighings, of the wet soil, below which the mass is constant: ASTM D4643 and D4959."""

WEIGHED_ONCE = stop("not-constant", "Tin {tin} was weighed {short}: constant mass is not shown.", "{what_now}")
NOT_CONSTANT = stop(
    "not-constant", "Tin {tin} still {verb} {change:.2f %} since the last weighing (limit {limit:g %}).", "{what_now}"
)
TOO_SOON = stop(
    "not-constant",
    "Tin {tin} was weighed again after {after:g min}: two weighings are at least {least:g min} of drying apart.",
    "Dry it on and weigh it again, or put the time right.",
)
UNKNOWN_TIN = warn(
    "unknown-tin", "Tin {tin} was weighed again but is not in this test.", "Read the tin's number again."
)
UNNAMED_REWEIGHING = warn("unknown-tin", "A re-weighing has no tin number.", "Enter which tin was weighed again.")


class Reweighing(Row):
    """The same tin weighed again after more drying."""

    tin: str | None = remark(
        "tin",
        "number on the tin; may be left blank when there is one tin",
        longest=40,
        also=("tin no", "can", "container no"),
    )
    after_min: float | None = reading(
        "after",
        "min",
        about="further drying before this weighing",
        low=0,
        high=100000,
        resolution=1,
        absent="nobody can say that it had dried further",
    )
    mass_tin_dry_g: float | None = reading(
        "tin + dry",
        "g",
        low=0,
        high=1e6,
        resolution=0.01,
        also=("dry", "tin dry", "mass dry", "dry mass"),
        absent=REQUIRED,
    )


class TinsDried(Choice):
    """How the tins of a test are dried."""

    OVERNIGHT = "overnight", "in the oven over night"
    OVEN = "oven", "in the oven until constant"
    MICROWAVE = "microwave", "in the microwave until constant"


DRIED_IN_OVEN: Shown = {"tins_dried": [TinsDried.OVERNIGHT, TinsDried.OVEN]}
"""Settings under which the tins of a test go into an oven."""
# A minute of the clock is rarely a full one.
_NEARLY = 0.5
_AGAIN = {
    TinsDried.OVEN: "Back into the oven for 1 h, then weigh again.",
    TinsDried.MICROWAVE: "Stir, again 1 min, weigh.",
}
# ASTM D2216 (2019), clause 10: a further hour; D4643 (2017), clause 11: a further minute.
_LEAST_MIN = {TinsDried.OVEN: 60.0, TinsDried.MICROWAVE: 1.0}


def tins_dried() -> Any:
    """Declare the setting that says how the tins of a test are dried."""
    return setting(
        TinsDried.OVERNIGHT,
        "tins dried",
        "Over night constant mass is assumed, and the sheet says so; until constant each tin is weighed again.",
    )


def weighed_again() -> Any:
    """Declare the table of re-weighings, shown where the tins are dried until constant."""
    return Field(
        default_factory=list,
        title="weighed again",
        max_length=200,
        json_schema_extra=shown_only({"tins_dried": [TinsDried.OVEN, TinsDried.MICROWAVE]}),
    )


@dataclass(frozen=True)
class Weighings:
    """The dry weighings of one tin that count, in order, where they stand, and one that came too soon to count."""

    name: str
    masses: list[float]
    paths: list[str]
    too_soon: tuple[str, float] | None

    def change_percent(self, wet_soil_g: float) -> float | None:
        """Return what the last weighing lost against the one before, percent of the wet soil; None for one weighing."""
        if len(self.masses) < 2:
            return None
        return float(mass_change_percent(self.masses[-2], self.masses[-1], wet_soil_g))


def weighings_of(
    table: str, i: int, row: TinRow, again: Sequence[Reweighing], *, only_tin: bool, least_min: float
) -> Weighings:
    """Return the dry weighings of the tin in row ``i`` of a table.

    ``only_tin`` lets re-weighings without a number belong to it; after less than ``least_min`` of drying it is one
    weighing made twice.
    """
    masses: list[float] = []
    paths: list[str] = []
    too_soon = None
    if row.mass_tin_dry_g is not None:
        masses.append(row.mass_tin_dry_g)
        paths.append(f"{table}.{i}.mass_tin_dry_g")
    for k, one in enumerate(again):
        mine = one.tin == row.tin if one.tin else only_tin
        if not mine or not one.used or one.mass_tin_dry_g is None:
            continue
        if one.after_min is not None and one.after_min < _NEARLY * least_min:
            too_soon = f"reweighings.{k}.after_min", one.after_min
            continue
        masses.append(one.mass_tin_dry_g)
        paths.append(f"reweighings.{k}.mass_tin_dry_g")
        too_soon = None
    return Weighings(row.tin or f"{i + 1}", masses, paths, too_soon)


def unknown_tins(rows: Sequence[TinRow], again: Sequence[Reweighing]) -> list[Finding]:
    """Return re-weighings of tins that the test does not have."""
    known = {row.tin for row in rows if row.tin}
    findings = []
    for i, one in enumerate(again):
        if one.empty or not one.used:
            continue
        if one.tin and one.tin not in known:
            findings.append(UNKNOWN_TIN.at(f"reweighings.{i}.tin", tin=one.tin))
        elif not one.tin and len(rows) > 1:
            findings.append(UNNAMED_REWEIGHING.at(f"reweighings.{i}.tin"))
    return findings


Taken = TypeVar("Taken", bound=Readings)


def weighed_once_more(rows: Sequence[dict[str, Any]], how: TinsDried) -> list[dict[str, Any]]:
    """Return the re-weighings that a careful hand makes of the dry tins of a virtual test; none over night."""
    if how == TinsDried.OVERNIGHT:
        return []
    return [{"tin": r["tin"], "after_min": _LEAST_MIN[how], "mass_tin_dry_g": r["mass_tin_dry_g"]} for r in rows]


@dataclass(frozen=True)
class Dried:
    """Whether the tins of a test are dry, and what is to be said of it."""

    findings: list[Finding]
    constant: bool
    words: str

    def judge(self, result: Reduction) -> None:
        """Add it to what a test came to."""
        result.findings += self.findings
        if self.findings:
            # A tin that is not dry goes back before anything is done with its result.
            result.next_step = result.next_step or self.findings[0].action
        result.complete = result.complete and self.constant
        result.school = "; ".join(words for words in (result.school, self.words) if words)


def until_constant(readings: Taken, table: str, how: TinsDried, tins: dict[str, float]) -> tuple[Taken, Dried]:
    """Return the readings with each tin's last dry mass in its row, and whether that mass is constant.

    Arguments
    ---------
    readings : with a table of tins and one of re-weighings
    table : name of the table of tins
    tins : mass in g of each tin by number
    """
    rows, again = list(getattr(readings, table)), readings.reweighings  # type: ignore[attr-defined]
    if not any(row.used and row.mass_tin_dry_g is not None for row in rows):
        return readings, Dried([], True, "")
    if how == TinsDried.OVERNIGHT:
        return readings, Dried([], True, "tins dried over night, constant mass assumed")
    findings, constant = unknown_tins(rows, again), True
    for i, row in enumerate(rows):
        if not row.used or row.mass_tin_dry_g is None:
            continue
        weighed = weighings_of(table, i, row, again, only_tin=len(rows) == 1, least_min=_LEAST_MIN[how])
        rows[i] = row.model_copy(update={"mass_tin_dry_g": weighed.masses[-1]})
        doubts = _doubts(weighed, row, how, tins)
        constant = constant and not doubts
        findings += doubts
    return readings.model_copy(update={table: rows}), Dried(findings, constant, f"tins dried {how}")


def _doubts(weighed: Weighings, row: TinRow, how: TinsDried, tins: dict[str, float]) -> list[Finding]:
    wet, tare = row.mass_tin_wet_g, row.tare_g(tins)
    if wet is None or tare is None or wet <= tare:
        return []  # what is wrong there is said of the weighing itself
    if weighed.too_soon:
        path, after = weighed.too_soon
        return [TOO_SOON.at(path, tin=weighed.name, after=after, least=_LEAST_MIN[how])]
    change = weighed.change_percent(wet - tare)
    if change is None:
        return [WEIGHED_ONCE.at(weighed.paths[-1], tin=weighed.name, short="once only", what_now=_AGAIN[how])]
    if abs(change) <= CONSTANT_PERCENT + 1e-9:
        return []
    verb = "lost" if change > 0 else "gained"
    return [
        NOT_CONSTANT.at(
            weighed.paths[-1],
            tin=weighed.name,
            verb=verb,
            change=abs(change),
            limit=CONSTANT_PERCENT,
            what_now=_AGAIN[how],
        )
    ]
