"""Solids, water and air of a specimen: its shares, what is printed of them, what cannot be, and their diagram."""

from dataclasses import dataclass

from pydantic import Field

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import Context, Leant, leant
from vadum.soil.contract.figure import Axis, Figure, Line, Region, RegionRole, box
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.numbers.rounding import TENTH, THOUSANDTH
from vadum.soil.physics.phases import WATER, saturation_percent, void_ratio

DENSER_THAN_GRAINS = stop(
    "denser-than-grains",
    "The dry density {dry_density:.3f g/cm³} is above that of the grains, {grains:.3f [g/cm³]}.",
    "Check volume and masses: a diameter for a radius, or g for kg; then the Gs.",
)
OVERFULL = stop(
    "overfull",
    "S is {saturation:.0f %}: more water than there is room for.",
    "Check the volume, the water content's tins and the Gs, in that order.",
)
SATURATED = warn(
    "saturated",
    "S is {saturation:.1f %}, just above full: within the doubt of volume and Gs.",
    "Accept if volume and tins are sound; a measured Gs would tell.",
)

VOID_RATIO = Result("void_ratio", "e", "void ratio", "", THOUSANDTH, impossible=(0.05, 20.0), unusual=(0.15, 3.0))
POROSITY_PERCENT = Result("porosity_percent", "n", "porosity", "%", TENTH, impossible=(5.0, 95.0), unusual=(15.0, 75.0))
AIR_PERCENT = Result("air_percent", "air", "air content", "%", TENTH, impossible=(-3.0, 80.0), unusual=(None, 45.0))
SATURATION_PERCENT = Result("saturation_percent", "S", "degree of saturation", "%", TENTH)
UNIT_WEIGHT = Result("unit_weight", "γ", "unit weight, moist", "kN/m³", TENTH, basis="ρ g", impossible=(9.0, 30.0))
DRY_UNIT_WEIGHT = Result(
    "dry_unit_weight", "γd", "dry unit weight", "kN/m³", TENTH, basis="ρd g", impossible=(0.5, 28.5)
)
GRAVITY_M_S2 = 9.80665

_OVERFULL = 105.0


class DensityContext(Context):
    """What a density in place leans on."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")


@dataclass(frozen=True)
class Phases:
    """Shares of one cubic centimetre of soil, from dry density, water content and particle density."""

    dry_density: float
    water_content: float
    particle_density: float

    @property
    def void_ratio(self) -> float:
        return void_ratio(self.dry_density, self.particle_density)

    @property
    def porosity_percent(self) -> float:
        return 100.0 * self.void_ratio / (1.0 + self.void_ratio)

    @property
    def saturation(self) -> float | None:
        return (
            saturation_percent(self.water_content, self.particle_density, self.void_ratio)
            if self.void_ratio > 0
            else None
        )

    @property
    def solids_percent(self) -> float:
        return 100.0 * self.dry_density / (self.particle_density * WATER)

    @property
    def water_percent(self) -> float:
        """Share of the volume that is water (volumetric water content)."""
        return self.water_content * self.dry_density / WATER

    @property
    def air_percent(self) -> float:
        return 100.0 - self.solids_percent - self.water_percent

    def parameters(self, basis: str) -> list[Parameter]:
        found = [
            VOID_RATIO.of(self.void_ratio, basis=basis),
            POROSITY_PERCENT.of(self.porosity_percent, basis=basis),
            AIR_PERCENT.of(self.air_percent, basis=basis),
        ]
        if self.saturation is not None:
            found.insert(2, SATURATION_PERCENT.of(self.saturation, basis=basis))
        return found

    def steps(self, basis: str) -> list[Step]:
        gs, rho_d, w = self.particle_density, self.dry_density, self.water_content
        steps = [
            Step.of(
                void_ratio,
                put_in=f"{gs:g} × {WATER:.4f} / {rho_d:.4f} − 1",
                result=f"{self.void_ratio:.4f}",
                basis=basis,
            )
        ]
        if self.saturation is not None:
            steps.append(
                Step.of(
                    saturation_percent,
                    put_in=f"{w:.2f} × {gs:g} / {self.void_ratio:.4f}",
                    result=f"{self.saturation:.1f}",
                    unit="%",
                    basis=basis,
                )
            )
        return steps

    def findings(self, *cells: str) -> list[Finding]:
        """Return what cannot be: more water than room, solids denser than themselves."""
        if self.void_ratio <= 0:
            return [DENSER_THAN_GRAINS.at(*cells, dry_density=self.dry_density, grains=self.particle_density * WATER)]
        saturation = self.saturation or 0.0
        if saturation > _OVERFULL:
            return [OVERFULL.at(*cells, saturation=saturation)]
        if saturation > 100.05:
            return [SATURATED.at(*cells, saturation=saturation)]
        return []


def unit_weights(bulk_density: float | None, dry_density: float | None) -> list[Parameter]:
    """Return the unit weights in kN/m3 of densities in g/cm3, as far as they are known."""
    pairs = ((UNIT_WEIGHT, bulk_density), (DRY_UNIT_WEIGHT, dry_density))
    return [of.of(GRAVITY_M_S2 * density) for of, density in pairs if density is not None]


def phase_diagram(phases: Phases | None, coarse_percent: float = 0.0, water_known: bool = True) -> Figure:
    """Return the phases to scale, by volume and by mass; what is not known stays blank paper.

    Arguments
    ---------
    phases : None while the dry density is not known, or cannot be
    coarse_percent : share of the volume that is stones
    water_known : False draws the voids as one
    """
    sound = phases if phases is not None and phases.void_ratio > 0 else None
    said = "Nothing is known yet."
    regions: list[Region] = []
    if sound is not None:
        solids, water = sound.solids_percent, min(sound.water_percent, 100.0 - sound.solids_percent)
        by_volume = [("stones", coarse_percent), ("solids", solids - coarse_percent)]
        by_volume += [("water", water), ("air", 100.0 - solids - water)] if water_known else [("voids", 100.0 - solids)]
        regions = _bar("volume", (0.06, 0.56), by_volume)
        said = ", ".join(f"{name} {share:.1f} %" for name, share in by_volume if share > 0.05) + " of the volume."
        if water_known:
            dry = 100.0 / (1 + sound.water_content / 100.0)
            regions += _bar("mass", (0.64, 0.94), [("solids", dry), ("water", 100.0 - dry)])
    frames = [box(at, (0.0, 100.0)) for at in ((0.06, 0.56), (0.64, 0.94))]
    return Figure(
        key="phases",
        title="Phases",
        description=f"Solids, water and air to scale. {said}",
        x=Axis(label="", low=0, high=1, hidden=True, named=[(0.31, "by volume"), (0.79, "by mass")]),
        y=Axis(label="share", unit="%", low=0, high=100, ticks=[0, 20, 40, 60, 80, 100]),
        regions=regions,
        lines=[
            Line(key=f"frame-{i}", role="reference", points=[*corners, corners[0]]) for i, corners in enumerate(frames)
        ],
    )


_ROLES: dict[str, RegionRole] = {"stones": "coarse", "solids": "solid", "water": "water", "air": "air", "voids": "air"}


def _bar(key: str, x: tuple[float, float], layers: list[tuple[str, float]]) -> list[Region]:
    """Return one bar of layers from the bottom up; a layer too thin for a line is left out."""
    regions, level = [], 0.0
    for name, share in layers:
        if share > 0.05:
            label = f"{name} {share:.1f} %"
            regions.append(
                Region(
                    key=f"{key}-{name}",
                    role=_ROLES[name],
                    label=label,
                    points=box(x, (level, min(100.0, level + share))),
                )
            )
            level += share
    return regions
