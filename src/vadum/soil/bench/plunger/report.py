"""How ratios are reported: rounded by their size, and explained step by step."""

from vadum.soil.bench.plunger.readings import BearingSettings
from vadum.soil.bench.plunger.run import Run
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, Rounding
from vadum.soil.physics import bearing as eq
from vadum.soil.physics.bearing import School

CBR = Result("cbr", "CBR", "{of}", "%", meaning="bearing ratio")
CBR_AT = Result(
    "cbr_{code}",
    "{label} {depth:g}",
    "{of}, at {depth:g} mm",
    "%",
    TENTH,
    sign="CBR",
    meaning="bearing ratio of one place at one depth",
)
ZERO_MM = Result(
    "zero_{table}_mm",
    "{label} origin",
    "{of}, origin moved ({how})",
    "mm",
    HUNDREDTH,
    sign="x0",
    meaning="how far the origin is moved",
)

BASIS: dict[str, str] = {School.KN: "EN 13286-47", School.MPA: "ASTM D1883"}


def ratio_parameter(ratio_percent: float, settings: BearingSettings, of: str) -> Parameter:
    """Return the bearing ratio, rounded by the rule chosen; ``of`` says of which places."""
    step = eq.report_step(ratio_percent, settings.rounded)
    rounding = Rounding(step=step, words=f"to the nearest {step} %")
    return CBR.of(ratio_percent, rounding=rounding, basis=BASIS[settings.school], of=of)


def run_parameters(run: Run) -> list[Parameter]:
    """Return both ratios of one run, to a tenth, and how far its origin was moved."""
    label, of = run.label, run.label.lower()
    found = [
        CBR_AT.of(value, code=f"{run.table}_{depth:g}_mm".replace(".", "_"), label=label, depth=depth, of=of)
        for depth, _, value in (r for r in run.ratios if r is not None)
    ]
    if run.tangent is not None:
        how = "tangent set by hand" if run.by_hand else "tangent at the steepest part"
        found.append(ZERO_MM.of(run.zero_mm, table=run.table, label=label, of=of, how=how))
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
