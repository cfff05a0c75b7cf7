"""Each pat as reduced, and what is wrong with it."""

from dataclasses import dataclass

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.shrinkage_limit.equations import shrinkage_limit_percent, shrinkage_ratio
from vadum.soil.methods.shrinkage_limit.findings import (
    BROKEN,
    CRACKED,
    DRY_HEAVIER,
    DRY_LARGER,
    MOULD_HEAVIER,
    NOTHING_LEFT,
    WAX_LIGHTER,
    WAX_THICK,
)
from vadum.soil.methods.shrinkage_limit.readings import Pat, PatState
from vadum.soil.physics.immersion import waxed_volume_cm3
from vadum.soil.physics.moisture import water_content_percent

# A dipped coat of a millimetre takes a fifth of a pat's room; with more its density, not the soil, sets the limit.
_THICK_PERCENT = 40.0


@dataclass(frozen=True)
class Shrunk:
    """A pat of which all is known: water in percent, volumes in cm3, dry mass in g; the density of water in g/cm3."""

    row: int
    water_content: float
    volume_wet_cm3: float
    volume_dry_cm3: float
    mass_dry_g: float
    water_g_cm3: float

    @property
    def limit(self) -> float:
        volumes = self.volume_wet_cm3, self.volume_dry_cm3
        return shrinkage_limit_percent(self.water_content, *volumes, self.mass_dry_g, self.water_g_cm3)

    @property
    def ratio(self) -> float:
        return shrinkage_ratio(self.mass_dry_g, self.volume_dry_cm3, self.water_g_cm3)


def shrunk(row: int, pat: Pat, water_g_cm3: float, wax_g_cm3: float) -> tuple[Shrunk | None, list[Step]]:
    """Return a pat as reduced with its derivation; None while a reading is missing or cannot be."""
    volume, mould, wet, dry = pat.volume_mould_cm3, pat.mass_mould_g, pat.mass_mould_wet_g, pat.mass_mould_dry_g
    waxed, under = pat.mass_waxed_g, pat.mass_in_water_g
    if volume is None or mould is None or wet is None or dry is None or waxed is None or under is None:
        return None, []
    solids = dry - mould
    if solids <= 0 or wet <= dry or waxed <= solids or pat.state == PatState.BROKEN:
        return None, []
    dry_volume = waxed_volume_cm3(waxed, under, solids, water_g_cm3, wax_g_cm3)
    if not 0 < dry_volume < volume:
        return None, []
    w = water_content_percent(wet, dry, mould)
    found = Shrunk(row, w, volume, dry_volume, solids, water_g_cm3)
    about = f"pat {row + 1}"
    return found, [
        Step.of(
            water_content_percent,
            put_in=f"100 ({wet:.2f} − {dry:.2f}) / ({dry:.2f} − {mould:.2f})",
            result=f"{w:.2f}",
            unit="%",
            about=about,
        ),
        Step.of(
            waxed_volume_cm3,
            symbol="Vd",
            put_in=f"({waxed:.2f} − {under:.2f}) / {water_g_cm3:.4f} − ({waxed:.2f} − {solids:.2f}) / {wax_g_cm3:g}",
            result=f"{dry_volume:.2f}",
            unit="cm³",
            about=about,
        ),
        Step.of(
            shrinkage_limit_percent,
            put_in=f"{w:.2f} − 100 ({volume:.2f} − {dry_volume:.2f}) × {water_g_cm3:.4f} / {solids:.2f}",
            result=f"{found.limit:.2f}",
            unit="%",
            about=about,
        ),
        Step.of(
            shrinkage_ratio,
            put_in=f"{solids:.2f} / ({dry_volume:.2f} × {water_g_cm3:.4f})",
            result=f"{found.ratio:.3f}",
            about=about,
        ),
    ]


def pat_findings(i: int, pat: Pat, water_g_cm3: float, wax_g_cm3: float) -> list[Finding]:
    """Return what is wrong with one pat in use."""
    path, number = f"pats.{i}", i + 1
    mould, wet, dry, waxed = pat.mass_mould_g, pat.mass_mould_wet_g, pat.mass_mould_dry_g, pat.mass_waxed_g
    if pat.state == PatState.BROKEN:
        return [BROKEN.at(f"{path}.state", number=number)]
    findings = [CRACKED.at(f"{path}.state", number=number)] if pat.state == PatState.CRACKED else []
    if wet is not None and dry is not None and dry >= wet:
        cells = f"{path}.mass_mould_dry_g", f"{path}.mass_mould_wet_g"
        return [*findings, DRY_HEAVIER.at(*cells, number=number, dry=dry, wet=wet)]
    full = dry if dry is not None else wet
    if mould is not None and full is not None and mould >= full:
        return [*findings, MOULD_HEAVIER.at(f"{path}.mass_mould_g", number=number, mould=mould, full=full)]
    if mould is None or dry is None or waxed is None:
        return findings
    if waxed <= dry - mould:
        return [*findings, WAX_LIGHTER.at(f"{path}.mass_waxed_g", number=number, waxed=waxed, dry=dry - mould)]
    under, volume = pat.mass_in_water_g, pat.volume_mould_cm3
    if under is None:
        return findings
    dry_volume = waxed_volume_cm3(waxed, under, dry - mould, water_g_cm3, wax_g_cm3)
    if dry_volume <= 0:
        findings.append(NOTHING_LEFT.at(f"{path}.mass_in_water_g", number=number, under=under))
    elif volume is not None and dry_volume >= volume:
        cells = f"{path}.mass_in_water_g", f"{path}.volume_mould_cm3"
        findings.append(DRY_LARGER.at(*cells, number=number, dry=dry_volume, mould=volume))
    elif (share := 100 * (waxed - dry + mould) / wax_g_cm3 / dry_volume) > _THICK_PERCENT:
        findings.append(WAX_THICK.at(f"{path}.mass_waxed_g", number=number, percent=share))
    return findings
