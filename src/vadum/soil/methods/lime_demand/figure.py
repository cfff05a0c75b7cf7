"""pH against lime, with the two limits, the lime-only check and the decision drawn."""

from vadum.soil.contract.figure import Axis, Figure, Fork, Line, Mark, Path, Series
from vadum.soil.methods.lime_demand.bottles import Bottle
from vadum.soil.methods.lime_demand.equations import ENOUGH_PH, LIME_SATURATED_PH, NEARLY_PH, Branch, Decision


def ph_figure(read: list[Bottle], decision: Decision) -> Figure:
    """Return pH at 25 degrees against lime."""
    soils = sorted((b for b in read if b.percent is not None), key=lambda b: b.percent or 0.0)
    alone = [b for b in read if b.percent is None]
    reach = 1.15 * max([6.0, *(b.percent or 0.0 for b in soils)])
    low = min([11.8, *(b.ph25 - 0.1 for b in read)])
    lines = [
        Line(key="enough", role="reference", label="12.40", points=[(0.0, ENOUGH_PH), (reach, ENOUGH_PH)]),
        Line(key="nearly", role="company", label="12.30", points=[(0.0, NEARLY_PH), (reach, NEARLY_PH)]),
        Line(key="soil", points=[(b.percent or 0.0, b.ph25) for b in soils]),
    ]
    if decision.percent is not None:
        at = next(b.ph25 for b in soils if b.percent == decision.percent)
        lines.append(
            Line(
                key="decision",
                role="construction",
                label=f"{decision.percent:g} %",
                points=[(decision.percent, at), (decision.percent, low)],
            )
        )
    marks = [Mark(x=b.percent or 0.0, y=b.ph25, path=f"bottles.{b.row}") for b in soils]
    company = [Mark(x=0.94 * reach, y=b.ph25, label="lime only") for b in alone]
    said = decision.words
    return Figure(
        key="ph",
        title="pH and lime",
        description=f"pH at 25 °C against lime. {said}",
        caption=f"{decision.percent:g} %" if decision.percent is not None else "no decision yet",
        x=Axis(label="lime", unit="% of dry soil", low=0.0, high=reach),
        y=Axis(label="pH at 25 °C", low=low, high=max([12.7, *(b.ph25 + 0.1 for b in read)])),
        lines=lines,
        series=[
            Series(key="bottles", label="bottles", marks=marks),
            Series(key="alone", label="lime only", role="company", marks=company),
        ],
    )


def decision_path(read: list[Bottle], decision: Decision) -> Path | None:
    """Return the walk through the rule with its numbers; None before a bottle is read."""
    soils = sorted((b for b in read if b.percent is not None), key=lambda b: b.percent or 0.0)
    if not soils:
        return None
    alone = next((b for b in read if b.percent is None), None)
    ph = ", ".join(f"{b.percent:g} % {b.ph25:.2f}" for b in soils)
    forks = [
        Fork(
            question=f"Lime only at {LIME_SATURATED_PH:g} ± 0.10?",
            answer=f"{alone.ph25:.2f}" if alone else "not read",
            taken="yes" if alone and abs(alone.ph25 - LIME_SATURATED_PH) <= 0.1 + 1e-9 else "no",
            others="otherwise calibrate again",
            open=alone is None,
        ),
        Fork(
            question="A bottle at 12.40 or more?",
            answer=ph,
            taken="yes" if decision.branch == Branch.REACHED else "no",
            others="then the lowest of them",
        ),
    ]
    if decision.branch != Branch.REACHED:
        forks.append(
            Fork(
                question="Two successive ones at 12.30 or more?",
                answer=ph,
                taken="yes" if decision.branch == Branch.ALIKE else "no",
                others="then the lower one",
            )
        )
    if decision.branch in (Branch.MORE, Branch.RECALIBRATE, Branch.SOIL):
        forks.append(
            Fork(
                question="Does the pH still rise?",
                answer=f"last {soils[-1].ph25:.2f}",
                taken="yes" if decision.branch == Branch.MORE else "no",
                others="if not, the meter is in doubt, or the soil where lime only reads right",
            )
        )
    end = f"{decision.percent:g} % lime" if decision.percent is not None else "no lime demand yet"
    return Path(
        key="decision", title="Decision", description=decision.words, forks=forks, end=end, end_note=decision.words
    )
