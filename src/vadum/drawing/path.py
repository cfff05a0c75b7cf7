"""A walk through a decision tree: the road taken straight down, the roads not taken to the side."""

import textwrap
from html import escape

from vadum.drawing.labels import text_width
from vadum.drawing.theme import stylesheet
from vadum.soil.contract.figure import Path

_LEFT, _TOP = 24.0, 34.0
_SIZE, _LINE = 13.0, 17.0


def render_path(path: Path, width: float, height: float, theme: str | None) -> str:
    """Return the walk as SVG; forks share the height, so that a short walk stands as well as a long one."""
    key = f"vf-{path.key}"
    step = min(92.0, (height - _TOP - 84) / max(1, len(path.forks)))
    parts = []
    y = _TOP
    # Questions and answers left, what the other roads lead to right.
    side = max(250.0, width * 0.56)
    # Where a question reaches so far, they stand below its line.
    below = 12.5 if any(_LEFT + 24 + text_width(fork.question, _SIZE) > side for fork in path.forks) else 0.0
    for fork in path.forks:
        road = "vf-road-open" if fork.open else "vf-road"
        parts.append(f'<path class="{road}" d="M{_LEFT:g} {y:.1f}V{y + step:.1f}"/>')
        if fork.others:
            parts.append(f'<path class="vf-stub" d="M{_LEFT:g} {y:.1f}H{side - 12:.1f}"/>')
            most = max(1, int((step - below) // _LINE))
            parts += _block(fork.others, side - 4, y + 4.5 + below, width - side - 6, "vf-soft", most=most)
        parts.append(
            f'<circle class="{"vf-knot-open" if fork.open else "vf-knot"}" cx="{_LEFT:g}" cy="{y:.1f}" r="6.5"/>'
        )
        parts.append(f'<text class="vf-soft" x="{_LEFT + 18:g}" y="{y - 5:.1f}">{escape(fork.question)}</text>')
        parts += _block(
            f"{fork.answer}: {fork.taken}",
            _LEFT + 18,
            y + 17,
            side - _LEFT - 40,
            "",
            most=max(1, int((step - 22) // _LINE)),
        )
        y += step
    parts.append(f'<circle class="vf-result" cx="{_LEFT:g}" cy="{y:.1f}" r="7"/>')
    big = 22.0
    while text_width(path.end, big) > width - _LEFT - 30 and big > 13:
        big -= 1
    role = "vf-big" if big == 22 else "vf-on"
    parts.append(f'<text class="{role}" x="{_LEFT + 18:g}" y="{y + 7:.1f}">{escape(path.end)}</text>')
    parts += _block(path.end_note, _LEFT + 18, y + 30, width - _LEFT - 30, "vf-soft", most=2)
    style = f"<style>{stylesheet(theme)}</style>" if theme else ""
    paper = f'<rect width="{width:g}" height="{height:g}" class="vf-paper"/>' if theme == "dark" else ""
    size = f' width="{width:g}" height="{height:g}"' if theme else f' data-figure="{path.key}"'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="vf" viewBox="0 0 {width:g} {height:g}" role="img" '
        f'aria-labelledby="{key}-title {key}-desc"{size}><title id="{key}-title">{escape(path.title)}</title>'
        f'<desc id="{key}-desc">{escape(path.description)}</desc>{style}{paper}{"".join(parts)}</svg>'
    )


def _block(text: str, x: float, y: float, width: float, role: str, most: int) -> list[str]:
    """Return a text wrapped to a width, cut after ``most`` lines."""
    letters = max(8, int(width / text_width("n", _SIZE)))
    lines = textwrap.wrap(text, letters, max_lines=most, placeholder=" …")
    return [
        f'<text class="{role}" x="{x:.1f}" y="{y + i * _LINE:.1f}">{escape(line)}</text>'
        for i, line in enumerate(lines)
    ]
