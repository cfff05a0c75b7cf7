"""Moduli of both loadings in both schools."""

from dataclasses import dataclass

from vadum.soil.methods.plate_static.branches import Branches
from vadum.soil.methods.plate_static.readings import PlateStaticSettings
from vadum.soil.numbers.scatter import Scatter
from vadum.soil.physics import plate as eq


@dataclass(frozen=True)
class Loading:
    """One loading: the points of its fit, the fitted curve, and its modulus in MPa by each school where it can be
    had."""

    points: list[tuple[float, float]]
    curve: tuple[float, float, float] | None
    quadratic: float | None
    secant: float | None
    secant_points: tuple[tuple[float, float], tuple[float, float]] | None
    me: float | None = None
    """Modulus over the stretch of pressure that was chosen."""
    scatter: Scatter | None = None
    """How well the quadratic modulus is known by the scatter of its stages."""

    def modulus(self, school: str) -> float | None:
        return self.quadratic if school == "quadratic" else self.secant

    def doubt(self, school: str) -> Scatter | None:
        """Return what the modulus scatters by; a secant through two points of a curve says nothing of it."""
        return self.scatter if school == "quadratic" else None

    def at(self, pressure_kpa: float) -> float:
        """Return the settlement of the fitted curve, mm."""
        assert self.curve is not None
        a0, a1, a2 = self.curve
        sigma = pressure_kpa / 1000
        return a0 + a1 * sigma + a2 * sigma**2


def first_loading(made: Branches, settings: PlateStaticSettings, preload_kpa: float) -> Loading:
    """Return the first loading; with or without its zero point, the preload, as the setting says."""
    points = [(p, s) for _, p, s in made.first]
    zero = [(preload_kpa, 0.0)]
    return _loading(points, zero if settings.zero_in_first else [], zero, made.largest_kpa, settings)


def second_loading(made: Branches, settings: PlateStaticSettings) -> Loading:
    """Return the second loading, judged at the largest pressure of the first."""
    points = [(p, s) for _, p, s in made.second]
    start = [(p, s) for _, p, s in made.back[-1:]]
    if not made.second:
        return Loading([], None, None, None, None)
    return _loading(points, start if settings.last_unloading_in_second else [], start, made.largest_kpa, settings)


def _loading(
    points: list[tuple[float, float]],
    start: list[tuple[float, float]],
    origin: list[tuple[float, float]],
    largest: float,
    settings: PlateStaticSettings,
) -> Loading:
    fitted = [*start, *points]
    curve = eq.settlement_curve([p for p, _ in fitted], [s for _, s in fitted]) if len(fitted) >= 3 else None
    radius = settings.size_mm / 2
    quadratic, scatter = None, None
    if curve is not None:
        scatter = eq.modulus_scatter([p for p, _ in fitted], [s for _, s in fitted], radius, largest)
        found = eq.deformation_modulus_mpa(curve[1], curve[2], radius, largest)
        quadratic = found if found == found else None
    # The secant is read on the measured curve, from where the loading began.
    read = sorted([*origin, *points])
    secant = eq.secant_modulus_mpa([p for p, _ in read], [s for _, s in read], radius, largest)
    pressures, settlements = [p for p, _ in read], [s for _, s in read]
    band = settings.me_band.kpa
    me = eq.me_mpa(pressures, settlements, settings.size_mm, band) if band else None
    return Loading(fitted, curve, quadratic, secant[0] if secant else None, secant[1:] if secant else None, me, scatter)
