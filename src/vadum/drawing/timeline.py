"""A plan as a timeline: a row per test, hands as solid bars, ovens and soaks as thin ones, nights folded away."""

from dataclasses import dataclass, field
from html import escape

from vadum.drawing.words import ADVANCE

LEFT, TOP, ROW, NIGHT = 170.0, 40.0, 34.0, 26.0
LETTERS = int((LEFT - 16) / ADVANCE)
"""Room for the name of a lane before its bars."""


@dataclass(frozen=True)
class Bar:
    """One operation: minutes after the origin, hands and unattended part; ``wrong`` says what stands against it."""

    id: str
    start: float
    hands: float
    holds: float
    what: str
    spoken: str
    pinned: bool = False
    wrong: str = ""


@dataclass(frozen=True)
class Lane:
    """One test of the plan; ``apart`` tells it from another one of its label, ``spoken`` is all of that in full."""

    label: str
    href: str
    apart: str = ""
    spoken: str = ""
    bars: list[Bar] = field(default_factory=list)


@dataclass(frozen=True)
class Day:
    """A day's hours in minutes after the origin, with its name and the clock time it begins at."""

    begins: float
    ends: float
    name: str
    first_hour: float


class _Map:
    """Minutes to pixels: hours to scale, nights a fixed width."""

    def __init__(self, days: list[Day], width: float) -> None:
        self.days = days
        hours = sum(day.ends - day.begins for day in days) or 1.0
        scale = max(0.05, (width - LEFT - 10 - NIGHT * max(0, len(days) - 1)) / hours)
        self.pieces: list[tuple[float, float, float, float]] = []
        x = LEFT
        for i, day in enumerate(days):
            if i:
                self.pieces.append((x, x + NIGHT, days[i - 1].ends, day.begins))
                x += NIGHT
            end = x + (day.ends - day.begins) * scale
            self.pieces.append((x, end, day.begins, day.ends))
            x = end

    def __call__(self, minutes: float) -> float:
        for x0, x1, m0, m1 in self.pieces:
            if minutes <= m1:
                share = (minutes - m0) / (m1 - m0) if m1 > m0 else 0.0
                return x0 + max(0.0, share) * (x1 - x0)
        return self.pieces[-1][1] if self.pieces else LEFT


def draw_timeline(rows: list[Lane], days: list[Day], *, width: float) -> str:
    """Return the plan as SVG for a page; bars can be focused, moved by keys and dragged."""
    at = _Map(days, width)
    height = TOP + ROW * len(rows) + 10
    parts = []
    for day in days:
        x0, x1 = at(day.begins), at(day.ends)
        parts.append(
            f'<rect class="tl-day" x="{x0:.1f}" y="{TOP - 6:g}" width="{x1 - x0:.1f}" height="{height - TOP:g}"/>'
        )
        parts.append(f'<text class="tl-name" x="{x0:.1f}" y="14">{escape(day.name)}</text>')
        parts += _hours(day, at)
    for i, row in enumerate(rows):
        y = TOP + ROW * i
        parts.append(f'<path class="tl-line" d="M0 {y + ROW - 3:.1f}H{width:g}"/>')
        at_y = y + (12 if row.apart else 18)
        parts.append(
            f'<a href="{row.href}"><title>{escape(row.spoken or row.label)}</title><text x="0"'
            f' y="{at_y:.1f}">{escape(row.label)}</text></a>'
        )
        if row.apart:
            parts.append(f'<text class="tl-hour" x="0" y="{y + 26:.1f}">{escape(row.apart)}</text>')
        parts += [_bar(bar, y, at) for bar in row.bars]
    pieces = " ".join(f"{x0:.1f},{x1:.1f},{m0:.1f},{m1:.1f}" for x0, x1, m0, m1 in at.pieces)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="tl" viewBox="0 0 {width:g} {height:g}" width="{width:g}"'
        f' height="{height:g}" role="group" aria-label="Plan" data-pieces="{pieces}">{"".join(parts)}</svg>'
    )


def _hours(day: Day, at: _Map) -> list[str]:
    parts, last = [], -100.0
    first = -(-day.first_hour // 60) * 60
    minutes = day.begins + first - day.first_hour
    while minutes <= day.ends:
        x = at(minutes)
        if x - last > 34:
            hour = int(day.first_hour + minutes - day.begins) // 60
            parts.append(
                f'<text class="tl-hour" x="{x:.1f}" y="29" text-anchor="middle">{hour}</text><path class="tl-tick"'
                f' d="M{x:.1f} {TOP - 8:g}v4"/>'
            )
            last = x
        minutes += 60
    return parts


def _bar(bar: Bar, y: float, at: _Map) -> str:
    x, end, free = at(bar.start), at(bar.start + bar.hands), at(bar.start + bar.hands + bar.holds)
    state = " ".join(name for name, so in (("tl-pinned", bar.pinned), ("tl-wrong", bar.wrong)) if so) or "tl-hands"
    said = [words for words in ("put there by hand" if bar.pinned else "", escape(bar.wrong)) if words]
    holds = (
        f'<rect class="tl-holds" x="{end:.1f}" y="{y + 11:.1f}" width="{max(0.0, free - end):.1f}" height="6"/>'
        if bar.holds
        else ""
    )
    return (
        f'<g class="tl-bar" data-id="{bar.id}" data-start="{bar.start:.1f}" tabindex="0" role="slider"'
        f' aria-valuenow="{bar.start:.0f}" '
        f'aria-valuetext="{"; ".join([escape(bar.spoken), *said])}" aria-label="{escape(bar.what)}">'
        f"<title>{escape(bar.what)}: {' · '.join([escape(bar.spoken), *said])}</title>{holds}"
        f'<rect class="{state}" x="{x:.1f}" y="{y + 5:.1f}" width="{max(3.0, end - x):.1f}" height="18"/></g>'
    )
