"""The ground column: strata to scale, textured by their own tests, with samples pinned at their depths."""

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from html import escape

from vadum.drawing.scale import linear_ticks

TOP, BOTTOM, SCALE_WIDTH, STRIP_WIDTH = 22.0, 14.0, 46.0, 64.0
_LABEL_STEP = 17.0


@dataclass(frozen=True)
class Texture:
    """What the tests say of a stratum: plasticity draws waves, closer with PI; non-plastic soil draws dots."""

    seed: int
    plasticity_index: float | None = None
    non_plastic: bool = False


@dataclass(frozen=True)
class Layer:
    top_m: float
    base_m: float
    title: str
    texture: Texture | None = None


@dataclass(frozen=True)
class Pin:
    """A sample; ``state`` is the glyph it shows, ``marks`` one (state, symbol, spoken) per test."""

    top_m: float
    base_m: float
    label: str
    state: str
    href: str
    spoken: str
    chosen: bool = False
    marks: tuple[tuple[str, str, str], ...] = field(default_factory=tuple)


def draw_ground(key: str, depth_m: float, layers: list[Layer], pins: list[Pin], *, width: float, height: float) -> str:
    """Return the column as SVG for a page; pins are links."""
    down = height - TOP - BOTTOM

    def y(depth: float) -> float:
        return TOP + depth / depth_m * down

    parts = [f'<text class="gc-soft" x="{SCALE_WIDTH - 12:g}" y="11" text-anchor="end">m</text>']
    for i, layer in enumerate(layers):
        top, bottom = y(layer.top_m), y(min(layer.base_m, depth_m))
        area = f'x="{SCALE_WIDTH:g}" y="{top:.1f}" width="{STRIP_WIDTH:g}" height="{bottom - top:.1f}"'
        clip = f"gc-{key}-{i}"
        parts.append(f'<clipPath id="{clip}"><rect {area}/></clipPath><rect class="gc-layer" {area}><title>')
        parts.append(f"{layer.top_m:g}–{layer.base_m:g} m: {escape(layer.title)}</title></rect>")
        if layer.texture:
            parts.append(f'<g clip-path="url(#{clip})" aria-hidden="true">{_texture(layer.texture, top, bottom)}</g>')
        if i:
            parts.append(f'<path class="gc-line" d="M{SCALE_WIDTH:g} {top:.1f}h{STRIP_WIDTH:g}"/>')
    strip = f'x="{SCALE_WIDTH:g}" y="{TOP:g}" width="{STRIP_WIDTH:g}" height="{down:g}"'
    parts.append(f'<rect class="gc-frame" {strip}/>')
    for tick in linear_ticks(0, depth_m, max(3, round(down / 70))):
        parts.append(f'<path class="gc-line" d="M{SCALE_WIDTH - 6:g} {y(tick):.1f}h6"/>')
        parts.append(
            f'<text class="gc-soft" x="{SCALE_WIDTH - 10:g}" y="{y(tick) + 4:.1f}" text-anchor="end">{tick:g}</text>'
        )
    parts += _pins(pins, y, width, height)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="gc" viewBox="0 0 {width:g} {height:g}" width="{width:g}" '
        f'height="{height:g}" role="group" aria-label="Ground column, {depth_m:g} m deep">{"".join(parts)}</svg>'
    )


def _pins(pins: list[Pin], y: Callable[[float], float], width: float, height: float) -> list[str]:
    parts = []
    stem_start = SCALE_WIDTH + STRIP_WIDTH
    last_label = -_LABEL_STEP
    for pin in sorted(pins, key=lambda p: p.top_m):
        at = y((pin.top_m + pin.base_m) / 2)
        # A label too close below another moves down and its stem bends; the pin's depth stays on the strip.
        label_at = min(max(at, last_label + _LABEL_STEP), height - 8)
        last_label = label_at
        x = stem_start + 18
        heavy = " gc-chosen" if pin.chosen else ""
        spans = f"M{stem_start - 1:g} {y(pin.top_m):.1f}V{y(pin.base_m):.1f}"
        marks = "".join(_test_mark(i, mark, x + 46, label_at) for i, mark in enumerate(pin.marks))
        parts.append(
            f'<a href="{pin.href}" class="gc-pin{heavy}" aria-label="{escape(pin.spoken)}">'
            f'<rect class="gc-hit" x="{stem_start:g}" y="{label_at - 12:.1f}" width="{width - stem_start:g}" height="24"/>'
            f'<path class="gc-span" d="{spans}"/>'
            f'<path class="gc-stem" d="M{stem_start:g} {at:.1f}L{x - 6:g} {label_at:.1f}"/>{glyph(pin.state, x, label_at)}'
            f'<text x="{x + 11:g}" y="{label_at + 4.5:.1f}">{escape(pin.label)}</text></a>{marks}'
        )
    return parts


def _test_mark(index: int, mark: tuple[str, str, str], x: float, y: float) -> str:
    state, symbol, spoken = mark
    left = x + index * 44
    return (
        f'<g aria-hidden="true"><title>{escape(spoken)}</title>{glyph(state, left, y, 4.5)}'
        f'<text class="gc-soft" x="{left + 8:.1f}" y="{y + 4.5:.1f}">{escape(symbol)}</text></g>'
    )


def glyph(state: str, x: float, y: float, r: float = 6.0) -> str:
    """Return the mark of a state: open ring planned, half running, full reduced, tick checked, cross void."""
    ring = f'<circle class="gc-ring" cx="{x:.1f}" cy="{y:.1f}" r="{r:g}"/>'
    inner = r - 2.2
    if state == "running":
        half = f"M{x:.1f} {y - inner:.1f}A{inner:g} {inner:g} 0 0 1 {x:.1f} {y + inner:.1f}Z"
        return f'{ring}<path class="gc-half" d="{half}"/>'
    if state == "reduced":
        return f'{ring}<circle class="gc-full" cx="{x:.1f}" cy="{y:.1f}" r="{inner:g}"/>'
    if state in ("checked", "issued"):
        return f'<circle class="gc-full" cx="{x:.1f}" cy="{y:.1f}" r="{r:g}"/><path class="gc-tick" d="M{x - r * 0.5:.1f} {y:.1f}l{r * 0.4:.1f} {r * 0.4:.1f} {r * 0.65:.1f}-{r * 0.8:.1f}"/>'
    if state == "void":
        return f'{ring}<path class="gc-void" d="M{x - r * 0.6:.1f} {y - r * 0.6:.1f}l{r * 1.2:.1f} {r * 1.2:.1f}"/>'
    return ring


def _texture(texture: Texture, top: float, bottom: float) -> str:
    rng = random.Random(texture.seed)
    if texture.non_plastic:
        count = int((bottom - top) * STRIP_WIDTH / 55)
        return "".join(
            f'<circle class="gc-dot" cx="{SCALE_WIDTH + rng.random() * STRIP_WIDTH:.1f}" '
            f'cy="{top + rng.random() * (bottom - top):.1f}" r="{0.6 + rng.random():.1f}"/>'
            for _ in range(count)
        )
    if texture.plasticity_index is None:
        return ""
    spacing = max(4.5, 17 - 0.3 * texture.plasticity_index)
    parts, level = [], top + spacing * 0.6
    while level < bottom:
        shift, height = rng.random() * 12, 1.2 + rng.random() * 0.8
        points = [
            f"{SCALE_WIDTH + x:.0f} {level + height * math.sin((x + shift) / 12 * 2 * math.pi):.1f}"
            for x in range(0, int(STRIP_WIDTH) + 3, 3)
        ]
        parts.append(f'<path class="gc-wave" d="M{"L".join(points)}"/>')
        level += spacing * (0.85 + 0.3 * rng.random())
    return "".join(parts)
