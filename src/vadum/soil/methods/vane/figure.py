"""The profile: bars of undisturbed and remoulded strength by depth."""

from itertools import pairwise

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box
from vadum.soil.methods.vane.depths import Sheared
from vadum.soil.numbers.fit import LineFit


def profile_figure(
    every: list[Sheared], used: list[Sheared], factors: dict[int, float], trend: LineFit | None
) -> Figure:
    """Return strength against depth, downward; what is left out stays as a cross."""
    deep = 0.3 + max([1.0, *(s.depth_m for s in every)])
    reach = 1.12 * max([20.0, *(s.peak_kpa for s in every)])
    half = 0.35 * min([0.4, *(b.depth_m - a.depth_m for a, b in pairwise(every) if b.depth_m > a.depth_m)])
    drawn = {s.row for s in used}
    regions = [
        Region(key=f"peak-{s.row}", role="water", points=box((0.0, s.peak_kpa), (s.depth_m - half, s.depth_m + half)))
        for s in used
    ]
    regions += [
        Region(
            key=f"left-{s.row}", role="coarse", points=box((0.0, s.remoulded_kpa), (s.depth_m - half, s.depth_m + half))
        )
        for s in used
        if s.remoulded_kpa is not None
    ]
    lines = (
        [
            Line(
                key="corrected",
                role="construction",
                label="corrected",
                points=[(factors[s.row] * s.peak_kpa, s.depth_m) for s in used],
            )
        ]
        if len(used) > 1 and all(s.row in factors for s in used)
        else []
    )
    if trend is not None:
        ends = [(max(0.0, trend.at(z)), z) for z in (used[0].depth_m, used[-1].depth_m)]
        lines.append(Line(key="trend", role="company", label="least squares", points=ends))
    said = (
        f"{min(s.peak_kpa for s in used):.0f} to {max(s.peak_kpa for s in used):.0f} kPa" if used else "No strength yet"
    )
    return Figure(
        key="profile",
        title="Strength with depth",
        description=f"Undrained strength by depth, {len(used)} depths, undisturbed and remoulded bars. {said}.",
        caption="wide bar undisturbed, dark bar remoulded" if used else "",
        x=Axis(label="undrained strength", unit="kPa", low=0.0, high=reach),
        y=Axis(label="depth", unit="m", low=0.0, high=deep, down=True),
        regions=regions,
        lines=lines,
        series=[
            Series(
                key="peaks",
                label="undisturbed",
                marks=[
                    Mark(
                        x=s.peak_kpa,
                        y=s.depth_m,
                        label=f"St {s.sensitivity:.1f}" if s.sensitivity else "",
                        path=f"profile.{s.row}",
                        left_out=s.row not in drawn,
                    )
                    for s in every
                ],
            )
        ],
    )
