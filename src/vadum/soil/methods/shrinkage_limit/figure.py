"""Volume against water content: straight down with the water, then level."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.methods.shrinkage_limit.pats import Shrunk


def shrinkage_figure(pats: list[Shrunk], limit: float | None, plastic: float | None, liquid: float | None) -> Figure:
    """Return the path of each pat from its mould to dry, by volume for 100 g of dry soil; the limits as lines."""
    waters = [p.water_content for p in pats] + [v for v in (plastic, liquid) if v is not None]
    right = 1.1 * max([40.0, *waters])
    tops = [100 * p.volume_wet_cm3 / p.mass_dry_g for p in pats]
    bottoms = [100 * p.volume_dry_cm3 / p.mass_dry_g for p in pats]
    low, high = 0.9 * min([40.0, *bottoms]), 1.08 * max([80.0, *tops])
    lines = [
        Line(key=f"pat-{p.row}", role="fit", points=[(0.0, bottom), (p.limit, bottom), (p.water_content, top)])
        for p, top, bottom in zip(pats, tops, bottoms, strict=True)
    ]
    lines += [
        Line(key=name, role="reference", label=name, points=[(at, low), (at, high)])
        for name, at in (("PL", plastic), ("LL", liquid))
        if at is not None
    ]
    if limit is not None:
        lines.append(Line(key="limit", role="construction", points=[(limit, low), (limit, min(bottoms))]))
    said = f"The mean shrinkage limit is {limit:.1f} %." if limit is not None else "No pat is dry yet."
    return Figure(
        key="shrinkage",
        title="Volume while it dries",
        description=f"Volume of 100 g of dry soil against its water content, {len(pats)} pats. {said}",
        x=Axis(label="water content", unit="%", low=0.0, high=right),
        y=Axis(label="volume of 100 g of dry soil", unit="cm³", low=low, high=high),
        lines=lines,
        series=[
            Series(
                key="pats",
                label="in the mould",
                marks=[
                    Mark(x=p.water_content, y=top, label=f"pat {p.row + 1}", path=f"pats.{p.row}")
                    for p, top in zip(pats, tops, strict=True)
                ],
            )
        ],
        result=Mark(x=limit, y=min(bottoms), label=f"SL {limit:.1f} %") if limit is not None else None,
    )
