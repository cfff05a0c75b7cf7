"""How ratios are reported: rounded by their size, and explained step by step."""

from decimal import Decimal

from vadum.soil.bench.plunger.readings import School
from vadum.soil.bench.plunger.run import Run
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.result import Parameter, number
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, Rounding
from vadum.soil.physics import bearing as eq

BASIS: dict[str, str] = {"13.2 and 20.0 kN": "EN 13286-47", "6.9 and 10.3 MPa": "ASTM D1883"}


def ratio_parameter(key: str, symbol: str, name: str, ratio_percent: float, school: School) -> Parameter:
    """Return a bearing ratio, reported to 1, 5 or 10 % by its size."""
    step = eq.report_step(ratio_percent)
    rounding = Rounding(step=Decimal(step), words=f"to the nearest {step} %")
    return number(key, symbol, name, "%", ratio_percent, rounding, basis=BASIS[school])


def run_parameters(run: Run) -> list[Parameter]:
    """Return both ratios of one run, to a tenth, and how far its origin was moved."""
    found = [
        number(
            f"cbr_{run.table}_{depth:g}_mm".replace(".", "_"),
            f"{run.label} {depth:g}",
            f"{run.label.lower()}, at {depth:g} mm",
            "%",
            value,
            TENTH,
        )
        for depth, _, value in (r for r in run.ratios if r is not None)
    ]
    if run.tangent is not None:
        how = "tangent set by hand" if run.by_hand else "tangent at the steepest part"
        found.append(
            number(
                f"zero_{run.table}_mm",
                f"{run.label} origin",
                f"{run.label.lower()}, origin moved ({how})",
                "mm",
                run.zero_mm,
                HUNDREDTH,
            )
        )
    return found


def run_steps(run: Run, school: School, ring: str) -> list[Step]:
    """Return the derivation of one run."""
    basis, about = BASIS[school], run.label.lower()
    steps = []
    if run.tangent is not None:
        t = run.tangent
        steps.append(
            Step(
                symbol="x0",
                formula="x0 = x − F / slope, never to the left",
                put_in=f"{t.at_mm:.2f} − {t.force_at(t.at_mm):.3f} / {t.slope_kn_mm:.3f}",
                result=f"{run.zero_mm:.2f}",
                unit="mm",
                basis=basis,
                about=about,
            )
        )
    for (depth, standard), ratio in zip(eq.STANDARD_FORCE_KN[school], run.ratios, strict=False):
        if ratio is not None:
            steps.append(
                Step(
                    symbol="CBR",
                    formula="CBR = 100 F / standard force",
                    put_in=f"100 × {ratio[1]:.3f} / {standard:.2f} ({ring}, at {depth:g} + {run.zero_mm:.2f} mm)",
                    result=f"{ratio[2]:.2f}",
                    unit="%",
                    basis=basis,
                    about=about,
                )
            )
    return steps
