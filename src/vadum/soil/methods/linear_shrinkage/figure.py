"""The bars beside their moulds, to scale."""

from vadum.soil.contract.figure import Axis, Figure, Line, Region, box
from vadum.soil.methods.linear_shrinkage.readings import Bar

_HIGH, _MOULD_MM = 0.5, 140.0


def bars_figure(bars: list[Bar], shrinkages: dict[int, float]) -> Figure:
    """Return every bar in its mould, the newest at the bottom.

    Arguments
    ---------
    shrinkages : linear shrinkage in percent by row, of the bars that have one
    """
    shown = [(i, bar) for i, bar in enumerate(bars) if bar.used and bar.length_mould_mm is not None]
    longest = max([bar.length_mould_mm or 0.0 for _, bar in shown], default=_MOULD_MM)
    regions, frames = [], []
    for place, (i, bar) in enumerate(shown):
        level = len(shown) - 1.0 - place
        span = (level - _HIGH / 2, level + _HIGH / 2)
        corners = box((0.0, bar.length_mould_mm or 0.0), span)
        frames.append(Line(key=f"mould-{i}", role="reference", points=[*corners, corners[0]]))
        if (dry := bar.length_dry_mm) is not None:
            said = f"bar {i + 1}: LS {shrinkages[i]:.1f} %" if i in shrinkages else f"bar {i + 1}"
            regions.append(Region(key=f"bar-{i}", role="solid", label=said, points=box((0.0, dry), span)))
    words = "; ".join(region.label for region in regions) or "no bar is dry yet"
    return Figure(
        key="bars",
        title="Bars in their moulds",
        description=f"Dry bars to scale in the outline of their moulds: {words}.",
        x=Axis(label="length", unit="mm", low=0, high=max(1.08 * longest, 150.0)),
        y=Axis(label="", low=-0.6, high=max(len(shown), 1) - 0.4, hidden=True),
        regions=regions,
        lines=frames,
    )
