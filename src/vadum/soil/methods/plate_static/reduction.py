"""From stages to deformation moduli, their ratio, and what the project makes of them."""

from collections.abc import Mapping

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.limit import basis_of
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.plate_static import advice
from vadum.soil.methods.plate_static.as_read import in_pressure_and_settlement
from vadum.soil.methods.plate_static.branches import Branches, branches
from vadum.soil.methods.plate_static.figure import plate_figure
from vadum.soil.methods.plate_static.moduli import Loading, first_loading, second_loading
from vadum.soil.methods.plate_static.readings import PlateStaticReadings, PlateStaticSettings, Runs, Wanted
from vadum.soil.methods.plate_static.results import EV1, EV1_OTHER, EV2, EV2_OTHER, JUDGEMENT, KS, ME1, ME2, RATIO
from vadum.soil.physics import plate as eq
from vadum.soil.physics.plate import deformation_modulus_mpa, secant_modulus_mpa, settlement_curve

_EXEMPT_SHARE = 0.6


def reduce_plate_static(
    readings: PlateStaticReadings, settings: PlateStaticSettings, *, guards: bool = False
) -> Reduction:
    """Return all that the stages say so far."""
    typed, readings = readings, in_pressure_and_settlement(readings, settings)
    made = branches(readings, settings)
    first, second = first_loading(made, settings, readings.preload_kpa or 0.0), second_loading(made, settings)
    alone = settings.wanted == Wanted.SUBGRADE
    pending = any(s.used and s.gauge_mm is None and s.planned_kpa is not None for s in readings.stages)
    done = bool(made.first) and not pending and (alone or bool(made.second) or not made.back)
    ks = _subgrade(made, settings, readings.preload_kpa or 0.0)
    moduli = first.modulus(settings.reported) is not None and second.modulus(settings.reported) is not None
    result = Reduction(
        school=f"{settings.size_mm:g} mm plate, {settings.hold_s:g} s per stage, {_school_words(settings)}",
        complete=done and (ks is not None if alone else moduli),
        follows=_followed(settings),
    )
    result.findings = advice.setup_findings(readings, settings) + advice.stage_findings(readings, settings, made)
    result.findings += advice.rows_findings(typed, readings, settings, made, done=done)
    result.findings += advice.curve_findings(made, first, second, settings, done=done)
    result.computed = _computed(readings, settings, made)
    result.expected = _expected(readings, made, first, settings)
    if not alone:
        _moduli(result, made, first, second, settings, guards=guards)
    if ks is not None:
        result.parameters.append(KS.of(ks))
    result.figures = [plate_figure(made, first, second, settings)]
    result.next_step = advice.next_step(readings, settings, made, done=done)
    result.afterwards = "Done. Unload, then move the reaction. Let a second person check the sheet."
    return result


def _school_words(settings: PlateStaticSettings) -> str:
    if settings.wanted == Wanted.SUBGRADE:
        return str(settings.wanted)
    return f"{settings.reported}, zero point {'in' if settings.zero_in_first else 'not in'} the first fit"


def _followed(settings: PlateStaticSettings) -> tuple[str, ...]:
    """Return the standards whose way of reducing was taken."""
    by_curve = settings.wanted == Wanted.SUBGRADE or settings.reported == "quadratic"
    return ("DIN 18134" if by_curve else "ÖNORM B 4417", *(("SN 670 317",) if settings.me_band.kpa else ()))


def _subgrade(made: Branches, settings: PlateStaticSettings, preload_kpa: float) -> float | None:
    """Return ks, from the 762 mm plate alone."""
    if settings.nominal_mm != eq.SUBGRADE_PLATE_MM or not made.first:
        return None
    curve = [(preload_kpa, 0.0), *((p, s) for _, p, s in made.first)]
    return eq.subgrade_modulus_mn_m3([p for p, _ in curve], [s for _, s in curve])


def _computed(readings: PlateStaticReadings, settings: PlateStaticSettings, made: Branches) -> dict[str, float | str]:
    area = eq.plate_area_m2(settings.size_mm)
    computed: dict[str, float | str] = {}
    for i, stage in enumerate(readings.stages):
        if stage.pressure is not None:
            force = eq.jack_force_kn(stage.pressure, area)
            computed[f"stages.{i}.jack_kn"] = force
            if readings.piston_cm2:
                computed[f"stages.{i}.pump_bar"] = eq.pump_pressure_bar(force, readings.piston_cm2)
    for i, _, settlement in made.every:
        computed[f"stages.{i}.settlement_mm"] = settlement
    return computed


def _expected(
    readings: PlateStaticReadings, made: Branches, first: Loading, settings: PlateStaticSettings
) -> dict[str, tuple[float, float]]:
    """Return where the next gauge reading of the first loading should fall."""
    pending = next(
        (i for i, s in enumerate(readings.stages) if s.used and s.gauge_mm is None and s.pressure is not None), None
    )
    plain = settings.gauge == "direct" and settings.gauge_runs == Runs.UP and not readings.gauge_start_mm
    if pending is None or made.back or first.curve is None or not plain:
        return {}
    pressure = readings.stages[pending].pressure or 0.0
    if pressure < made.largest_kpa:
        return {}
    at = first.at(pressure)
    return {f"stages.{pending}.gauge_mm": (round(0.85 * at, 2), round(1.25 * at, 2))}


def _moduli(
    result: Reduction, made: Branches, first: Loading, second: Loading, settings: PlateStaticSettings, *, guards: bool
) -> None:
    """Add the moduli of both schools, the reported ones first."""
    other = "secant" if settings.reported == "quadratic" else "quadratic"
    basis = {"quadratic": "DIN 18134", "secant": "secant between 0.3 and 0.7 of the largest pressure"}
    ev1, ev2 = first.modulus(settings.reported), second.modulus(settings.reported)
    loadings = ((EV1, EV1_OTHER, "first", first), (EV2, EV2_OTHER, "second", second))
    for modulus, _, name, loading in loadings:
        value = loading.modulus(settings.reported)
        if value is not None:
            result.parameters.append(
                modulus.of(value, basis=basis[settings.reported], doubt=loading.doubt(settings.reported))
            )
        result.derivation += _steps(modulus.symbol, name, loading, made.largest_kpa, settings)
    if ev1 and ev2:
        result.parameters.append(RATIO.of(ev2 / ev1, basis=basis[settings.reported]))
        _judgement(result, ev1, ev2, settings, guards=guards)
    for _, by_other, _, loading in loadings:
        value = loading.modulus(other)
        if value is not None:
            result.parameters.append(by_other.of(value, basis=basis[other], doubt=loading.doubt(other), other=other))
    for modulus, loading in ((ME1, first), (ME2, second)):
        if loading.me is not None:
            result.parameters.append(modulus.of(loading.me, band=str(settings.me_band)))


def exempted(settings: PlateStaticSettings, values: Mapping[str, float]) -> bool:
    """Return whether the ratio may be larger: Ev1 alone reaches 0.6 of the Ev2 required."""
    asked = settings.required_ev2_mpa
    return settings.exempt and asked is not None and values.get("ev1", 0.0) >= _EXEMPT_SHARE * asked


def _judgement(result: Reduction, ev1: float, ev2: float, settings: PlateStaticSettings, *, guards: bool) -> None:
    """Judge the moduli against what the project asks, with the usual exemption of the ratio."""
    asked, most = settings.required_ev2_mpa, settings.required_ratio
    if asked is None and most is None:
        return
    wrong = []
    if asked is not None and ev2 < asked:
        wrong.append(f"Ev2 {ev2:.1f} below {asked:g} MPa")
    exempt = exempted(settings, {"ev1": ev1})
    if most is not None and ev2 / ev1 > most and not exempt:
        wrong.append(f"Ev2/Ev1 {ev2 / ev1:.2f} above {most:g}")
    text = "; ".join(wrong) or (
        "meets the project's limits" + (", ratio exempted" if most is not None and ev2 / ev1 > most else "")
    )
    result.parameters.append(JUDGEMENT.word(text, basis=f"limits set by the project; {basis_of(guards)}"))


def _steps(symbol: str, name: str, loading: Loading, largest: float, settings: PlateStaticSettings) -> list[Step]:
    radius, about = settings.size_mm / 2, f"{name} loading"
    steps = []
    if loading.curve is not None and loading.quadratic is not None:
        a0, a1, a2 = loading.curve
        steps += [
            Step.of(
                settlement_curve,
                put_in=", ".join(f"({p:g} kPa, {s:.2f} mm)" for p, s in loading.points),
                result=f"{a0:.4f} + {a1:.4f} σ + {a2:.4f} σ²",
                unit="mm, σ in MPa",
                about=about,
            ),
            Step.of(
                deformation_modulus_mpa,
                symbol=symbol,
                put_in=f"1.5 × {radius:g} / ({a1:.4f} + {a2:.4f} × {largest / 1000:g})",
                result=f"{loading.quadratic:.2f}",
                unit="MPa",
                about=about,
            ),
        ]
    if loading.secant is not None and loading.secant_points is not None:
        (p0, s0), (p1, s1) = loading.secant_points
        steps.append(
            Step.of(
                secant_modulus_mpa,
                symbol=f"{symbol} secant",
                put_in=f"1.5 × {radius:g} × ({p1:g} − {p0:g})/1000 / ({s1:.3f} − {s0:.3f})",
                result=f"{loading.secant:.2f}",
                unit="MPa",
                basis="read at 0.3 and 0.7 σmax",
                about=about,
            )
        )
    return steps
