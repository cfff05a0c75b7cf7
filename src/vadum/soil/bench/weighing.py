"""Tin weighings: the water content behind every consistency test, and what can go wrong with a tin."""

from collections.abc import Sequence
from statistics import median

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import REQUIRED, Row, reading, remark
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.neighbours import Alike, Relation
from vadum.soil.contract.tins import bare
from vadum.soil.physics.moisture import water_content_percent

DRY_HEAVIER_THAN_WET = stop(
    "dry-heavier-than-wet",
    "{name}: tin + dry {dry:g g} is heavier than tin + wet {wet:g g}.",
    "Look whether the two are exchanged or the tin is another one; weigh the dry tin again.",
)
NO_WATER = warn(
    "no-water",
    "{name}: tin + dry is tin + wet, {dry:g g}: no water at all.",
    "Read both masses again; one was copied, or the soil was dry when it came.",
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

# A tin that differs more than this from the register is probably another tin.
TIN_TOLERANCE_G = 0.05
# Empty tins of one set differ less.
_TARES = 1.9
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


MASSES = ("mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g")


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
    return findings + _repeated_tins(table, rows, tins)


def _row_findings(path: str, row: TinRow, tins: dict[str, float]) -> list[Finding]:
    findings = []
    tare, wet, dry = row.tare_g(tins), row.mass_tin_wet_g, row.mass_tin_dry_g
    name = f"Tin {row.tin}" if row.tin else "This tin"
    if wet is not None and dry is not None and dry > wet:
        findings.append(
            DRY_HEAVIER_THAN_WET.at(f"{path}.mass_tin_dry_g", f"{path}.mass_tin_wet_g", name=name, dry=dry, wet=wet)
        )
    elif wet is not None and dry == wet and (tare is None or dry > tare):
        findings.append(NO_WATER.at(f"{path}.mass_tin_dry_g", f"{path}.mass_tin_wet_g", name=name, dry=dry))
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


def _repeated_tins(table: str, rows: Sequence[TinRow], register: dict[str, float]) -> list[Finding]:
    of_tin: dict[str, list[int]] = {}
    for i, row in enumerate(rows):
        if row.used and row.tin:
            of_tin.setdefault(row.tin if row.tin in register else bare(row.tin), []).append(i)
    return [
        TIN_USED_TWICE.at(
            *(f"{table}.{i}.tin" for i in found),
            name=" or ".join(dict.fromkeys(rows[i].tin or "" for i in found)),
            count=len(found),
        )
        for found in of_tin.values()
        if len(found) > 1
    ]


def _unit_slips(table: str, rows: Sequence[TinRow]) -> list[Finding]:
    masses = {
        (i, column): value
        for i, row in enumerate(rows)
        if row.used
        for column in MASSES
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
