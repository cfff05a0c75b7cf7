"""Tin weighings: the water content behind every consistency test, and what can go wrong with a tin."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from statistics import median
from typing import Any

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import REQUIRED, Row, reading, remark
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.neighbours import Alike, Relation
from vadum.soil.contract.places import Taken
from vadum.soil.contract.slip import slip_words
from vadum.soil.physics.moisture import water_content_percent

DRY_HEAVIER_THAN_WET = stop(
    "dry-heavier-than-wet",
    "{name}: tin + dry {dry:g g} is heavier than tin + wet {wet:g g}.",
    "Look whether the two are exchanged or the tin is another one; weigh the dry tin again.",
)
WET_NOT_ABOVE_TIN = stop(
    "wet-not-above-tin",
    "{name}: tin + wet {wet:g g} is not heavier than the tin, {tare:g g}.",
    "Check the tin number and weigh again.",
)
DRY_NOT_ABOVE_TIN = stop(
    "dry-not-above-tin",
    "{name}: tin + dry {dry:g g} is not heavier than the tin, {tare:g g}.",
    "Check the tin number; weigh the dry tin and the empty tin again.",
)
TIN_DIFFERS_FROM_REGISTER = warn(
    "tin-differs-from-register",
    "{name} weighs {mass_tin_g:g g}, the register says {registered:g g}: wrong tin?",
    "Read the number on the tin again; if it is right, weigh the empty tin and correct the register.",
)
TIN_USED_TWICE = warn("tin-used-twice", "Tin {name} stands in {count} rows.", "Read the numbers on the tins again.")
UNIT_SLIP = stop(
    "unit-slip",
    "{mass:g g} is {ratio} the masses beside it ({middle:.4g g}): typed in another unit?",
    "Read the balance again and type the mass in g, or with its unit (0.0386 kg).",
)

WATER_CONTENTS_APART = warn(
    "water-contents-apart",
    "{name}: {water:.1f %} of a soil of which the other tins say {near:.1f %}{slip}",
    "Weigh the empty tin and the dry tin again; take another tin if all masses stand.",
)

# A tin that differs more than this from the register is probably another tin.
TIN_TOLERANCE_G = 0.05
# Empty tins of one set differ less.
_TARES = 1.7
# Two water contents of one soil by one person differ by less than 7.8 % of their mean in 19 of 20 cases (ASTM D2216,
# precision); ten leave room for the ground.
_ONE_SOIL = 0.10
# Beyond this ratio to its neighbours a mass is in another unit, not in another soil.
_SLIP_RATIO = 300.0
_MOST_MASS_G = 1e6


class TinRow(Row):
    """A tin of soil weighed moist and dry."""

    tin: str | None = remark("tin", "number on the tin", longest=40, also=("tin no", "can", "container no"))
    mass_tin_g: float | None = reading(
        "tin",
        "g",
        about="empty tin; taken from the tin register when left blank",
        low=0,
        high=_MOST_MASS_G,
        resolution=0.01,
        also=("tare", "tin mass", "mass of tin", "container"),
        absent=REQUIRED,
        instead="water_content_percent",
        usual=(3, 600),
    )
    mass_tin_wet_g: float | None = reading(
        "tin + wet",
        "g",
        about="tin with moist soil",
        low=0,
        high=_MOST_MASS_G,
        resolution=0.01,
        hand="row",
        also=("wet", "tin wet", "mass wet", "wet mass"),
        absent=REQUIRED,
        instead="water_content_percent",
    )
    mass_tin_dry_g: float | None = reading(
        "tin + dry",
        "g",
        about="tin with dry soil",
        low=0,
        high=_MOST_MASS_G,
        resolution=0.01,
        hand="down",
        also=("dry", "tin dry", "mass dry", "dry mass"),
        absent=REQUIRED,
        instead="water_content_percent",
    )

    def tare_g(self, tins: dict[str, float]) -> float | None:
        """Return the tin's mass as weighed, else from the register."""
        if self.mass_tin_g is not None:
            return self.mass_tin_g
        return tins.get(self.tin) if self.tin else None

    def water_content(self, tins: dict[str, float]) -> float | None:
        """Return the water content in percent, None while a mass is missing or the masses cannot be right."""
        tare = self.tare_g(tins)
        wet, dry = self.mass_tin_wet_g, self.mass_tin_dry_g
        if tare is None or wet is None or dry is None or dry <= tare or wet < dry:
            return None
        return water_content_percent(wet, dry, tare)

    def weighing_step(
        self, tins: dict[str, float], water_content: float, about: str, basis: str = "ASTM D2216"
    ) -> Step:
        """Return the derivation of a water content that :meth:`water_content` gave."""
        wet, dry, tare = self.mass_tin_wet_g, self.mass_tin_dry_g, self.tare_g(tins)
        return Step.of(
            water_content_percent,
            put_in=f"100 ({wet:.2f} − {dry:.2f}) / ({dry:.2f} − {tare:.2f})",
            result=f"{water_content:.2f}",
            unit="%",
            basis=basis,
            about=about,
        )


@dataclass(frozen=True)
class OneSoil:
    """The tins of a table, or of each specimen in it, hold one soil: their water contents agree."""

    table: str
    group: str = ""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        """Yield the tins whose water content is not that of the others."""
        for rows in taken.rows(self.table, self.group).values():
            found = [(i, row, w) for i, row in rows if (w := row.water_content(context.tins)) is not None]
            yield from self._apart(found, context.tins)

    def _apart(self, found: list[tuple[int, Any, float]], tins: dict[str, float]) -> Iterator[Finding]:
        for k, (i, row, water) in enumerate(found):
            others = [w for j, (_, _, w) in enumerate(found) if j != k]
            # Of two that differ nobody knows which is wrong: the later one is named, and both are marked.
            if not others or (len(others) == 1 and k == 0):
                continue
            near = median(others)
            if abs(water - near) > _ONE_SOIL * (water + near) / 2:
                marked = [i] if len(others) > 1 else [found[0][0], i]
                yield WATER_CONTENTS_APART.at(
                    *(f"{self.table}.{m}.{name}" for m in marked for name in _MASSES),
                    name=f"Tin {row.tin}" if row.tin else f"Row {i + 1}",
                    water=water,
                    near=near,
                    slip=_slip(row, near, tins) or ".",
                )


_MASSES = ("mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g")


def _slip(row: "TinRow", near: float, tins: dict[str, float]) -> str:
    """Return which mass of a tin, by which slip, would have given the water content of the others."""

    def fits(value: float, name: str) -> bool:
        water = row.model_copy(update={name: value}).water_content(tins)
        return water is not None and abs(water - near) < _ONE_SOIL / 2 * near

    for name in _MASSES:
        if (value := getattr(row, name)) is not None and (slip := slip_words(value, partial(fits, name=name))):
            return slip
    return ""


def tins_agree(table: str, group: str = "") -> tuple[Relation, ...]:
    """Return what holds between the tins of one soil: tares of one set, water contents alike."""
    return (*tares_alike(table), OneSoil(table, group))


def tares_alike(table: str) -> tuple[Relation, ...]:
    """Return what holds between the empty tins of a table: they are of one set."""
    return (Alike((f"{table}.mass_tin_g",), ratio=_TARES),)


def any_wet(rows: Sequence[TinRow]) -> bool:
    """Return whether a tin has been filled and weighed moist."""
    return any(row.used and row.mass_tin_wet_g is not None for row in rows)


def all_dry(rows: Sequence[TinRow]) -> bool:
    """Return whether every tin that was weighed moist has been weighed dry."""
    wet = [row for row in rows if row.used and row.mass_tin_wet_g is not None]
    return bool(wet) and all(row.mass_tin_dry_g is not None for row in wet)


def weighing_findings(table: str, rows: Sequence[TinRow], tins: dict[str, float]) -> list[Finding]:
    """Return what is wrong with the tins and masses of the rows in use."""
    slips = _unit_slips(table, rows)
    slipped = {finding.cells[0].rsplit(".", 1)[0] for finding in slips}
    findings = list(slips)
    for number, row in enumerate(rows):
        path = f"{table}.{number}"
        if row.used and path not in slipped:
            findings += _row_findings(path, row, tins)
    return findings + _repeated_tins(table, rows)


def _row_findings(path: str, row: TinRow, tins: dict[str, float]) -> list[Finding]:
    findings = []
    tare, wet, dry = row.tare_g(tins), row.mass_tin_wet_g, row.mass_tin_dry_g
    name = f"Tin {row.tin}" if row.tin else "This tin"
    if wet is not None and dry is not None and dry > wet:
        findings.append(
            DRY_HEAVIER_THAN_WET.at(f"{path}.mass_tin_dry_g", f"{path}.mass_tin_wet_g", name=name, dry=dry, wet=wet)
        )
    if tare is not None and wet is not None and wet <= tare:
        findings.append(
            WET_NOT_ABOVE_TIN.at(f"{path}.mass_tin_wet_g", f"{path}.mass_tin_g", name=name, wet=wet, tare=tare)
        )
    elif tare is not None and dry is not None and dry <= tare:
        findings.append(
            DRY_NOT_ABOVE_TIN.at(f"{path}.mass_tin_dry_g", f"{path}.mass_tin_g", name=name, dry=dry, tare=tare)
        )
    registered = tins.get(row.tin) if row.tin else None
    if registered is not None and row.mass_tin_g is not None and abs(registered - row.mass_tin_g) > TIN_TOLERANCE_G:
        findings.append(
            TIN_DIFFERS_FROM_REGISTER.at(
                f"{path}.mass_tin_g", f"{path}.tin", name=name, mass_tin_g=row.mass_tin_g, registered=registered
            )
        )
    return findings


def _repeated_tins(table: str, rows: Sequence[TinRow]) -> list[Finding]:
    names = Counter(row.tin for row in rows if row.used and row.tin)
    return [
        TIN_USED_TWICE.at(
            *(f"{table}.{i}.tin" for i, row in enumerate(rows) if row.used and row.tin == name), name=name, count=count
        )
        for name, count in names.items()
        if count > 1
    ]


def _unit_slips(table: str, rows: Sequence[TinRow]) -> list[Finding]:
    masses = {
        (i, column): value
        for i, row in enumerate(rows)
        if row.used
        for column in _MASSES
        if (value := getattr(row, column)) is not None and value > 0
    }
    if len(masses) < 3:
        return []
    middle = median(masses.values())
    return [
        UNIT_SLIP.at(f"{table}.{i}.{column}", mass=mass, ratio=ratio_words(mass / middle), middle=middle)
        for (i, column), mass in masses.items()
        if mass / middle > _SLIP_RATIO or middle / mass > _SLIP_RATIO
    ]


def ratio_words(ratio: float) -> str:
    """Return ``about 1000 times`` or ``about 1/1000 of``, to two figures."""
    if ratio >= 1:
        return f"about {float(f'{ratio:.1g}'):g} times"
    return f"about 1/{float(f'{1 / ratio:.1g}'):g} of"
