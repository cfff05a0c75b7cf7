"""The ground column: strata to scale, textured by their own tests, with samples pinned at their depths."""

import bisect
import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from html import escape

from vadum.drawing.scale import linear_ticks
from vadum.drawing.words import ADVANCE, cut

TOP, BOTTOM, SCALE_WIDTH, STRIP_WIDTH = 22.0, 14.0, 46.0, 64.0
_LABEL_STEP = 17.0
# Room for the names of samples, and for what stands behind the longest of them.
_NAME, _BEHIND = 35.0, 100.0
_NAMED_MARKS = 3


@dataclass(frozen=True)
class Texture:
    """What the tests say of a stratum: plasticity draws waves, closer with PI; grading draws dots of its own sizes.

    ``grading`` is percent finer by diameter in mm; without it non-plastic soil draws plain dots.
    """

    seed: int
    plasticity_index: float | None = None
    non_plastic: bool = False
    grading: tuple[tuple[float, float], ...] = ()


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
    group: str = ""


@dataclass(frozen=True)
class Water:
    """Water in a hole: at which depth, and whether it stood there or was only met."""

    depth_m: float
    stood: bool

    @property
    def spoken(self) -> str:
        return f"Water {'stands' if self.stood else 'struck'} at {self.depth_m:.2f} m"


def draw_ground(
    key: str,
    depth_m: float,
    layers: list[Layer],
    pins: list[Pin],
    *,
    width: float,
    height: float,
    waters: tuple[Water, ...] = (),
) -> str:
    """Return the column as SVG for a page; pins are links. It grows with the pins, so that each has its line."""
    height = max(height, TOP + BOTTOM + _LABEL_STEP * len(pins))
    down = height - TOP - BOTTOM

    def y(depth: float) -> float:
        return TOP + depth / depth_m * down

    parts = [f'<text class="gc-soft" x="{SCALE_WIDTH - 12:g}" y="11" text-anchor="end">m</text>']
    parts += strip(key, depth_m, layers, y)
    parts += [_water(water, y(water.depth_m)) for water in waters]
    parts += _pins(pins, y, width, height)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="gc" viewBox="0 0 {width:g} {height:g}" width="{width:g}" '
        f'height="{height:g}" role="group" aria-label="Ground column, {depth_m:g} m deep">{"".join(parts)}</svg>'
    )


def strip(key: str, depth_m: float, layers: list[Layer], y: Callable[[float], float]) -> list[str]:
    """Return the layers with their textures between ``y`` of 0 and of the depth, and the scale beside them."""
    parts = []
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
    down = y(depth_m) - y(0)
    frame = f'x="{SCALE_WIDTH:g}" y="{y(0):g}" width="{STRIP_WIDTH:g}" height="{down:g}"'
    parts.append(f'<rect class="gc-frame" {frame}/>')
    for tick in linear_ticks(0, depth_m, max(3, round(down / 70))):
        parts.append(f'<path class="gc-line" d="M{SCALE_WIDTH - 6:g} {y(tick):.1f}h6"/>')
        parts.append(
            f'<text class="gc-soft" x="{SCALE_WIDTH - 10:g}" y="{y(tick) + 4:.1f}" text-anchor="end">{tick:g}</text>'
        )
    return parts


def _water(water: Water, y: float) -> str:
    """Return the mark of water as geologists draw it: a triangle on its level, filled where the water stood."""
    x = SCALE_WIDTH + STRIP_WIDTH - 12
    kind = "gc-water" if water.stood else "gc-water struck"
    return (
        f'<g role="img" aria-label="{water.spoken}"><title>{water.spoken}</title>'
        f'<path class="{kind}" d="M{x:g} {y:.1f}l-6 -10h12z"/><path class="gc-level" d="M{x - 9:g} {y:.1f}h18"/></g>'
    )


def _pins(pins: list[Pin], y: Callable[[float], float], width: float, height: float) -> list[str]:
    parts = []
    stem_start = SCALE_WIDTH + STRIP_WIDTH
    x = stem_start + 18
    free = width - x - 11
    room = max(_NAME, min(free - _BEHIND, max((len(pin.label) for pin in pins), default=0) * ADVANCE + 6))
    letters = int(min(room - 4, free) / ADVANCE)
    ordered = sorted(pins, key=lambda p: p.top_m)
    ats = [y((pin.top_m + pin.base_m) / 2) for pin in ordered]
    for pin, at, label_at in zip(ordered, ats, _apart(ats, height - 8), strict=True):
        heavy = " gc-chosen" if pin.chosen else ""
        spans = f"M{stem_start - 1:g} {y(pin.top_m):.1f}V{y(pin.base_m):.1f}"
        marks = _test_marks(pin, x + 11 + room, label_at, width)
        parts.append(
            f'<a href="{pin.href}" class="gc-pin{heavy}" aria-label="{escape(pin.spoken)}">'
            f'<title>{escape(pin.spoken)}</title><rect class="gc-hit"'
            f' x="{stem_start:g}" y="{label_at - 12:.1f}" width="{width - stem_start:g}" height="24"/><path'
            f' class="gc-span" d="{spans}"/><path class="gc-stem" d="M{stem_start:g} {at:.1f}L{x - 6:g}'
            f' {label_at:.1f}"/>{glyph(pin.state, x, label_at)}<text x="{x + 11:g}"'
            f' y="{label_at + 4.5:.1f}">{escape(cut(pin.label, letters))}</text></a>{marks}'
        )
    return parts


def _apart(ats: list[float], lowest: float) -> list[float]:
    """Return where labels stand: a step apart, moved down where they are too close, and up again from the bottom.

    The stem of a moved label bends; the pin's depth stays on the strip.
    """
    found: list[float] = []
    for at in ats:
        found.append(max(at, found[-1] + _LABEL_STEP) if found else at)
    for i in range(len(found) - 1, -1, -1):
        found[i] = min(found[i], found[i + 1] - _LABEL_STEP if i + 1 < len(found) else lowest)
    return found


def _test_marks(pin: Pin, x: float, y: float, width: float) -> str:
    """Return a mark per test, with its symbol while there is room, and the soil's group behind them.

    Of more tests than the column is wide the last ones are a number.
    """
    free = width - x - (30 if pin.group else 4)
    room = len(pin.marks) <= min(_NAMED_MARKS, free / 44)
    pitch = 44 if room else 13
    most = max(1, int(free // pitch))
    shown = pin.marks if len(pin.marks) <= most else pin.marks[: max(1, most - 2)]
    parts = []
    for i, (state, symbol, spoken) in enumerate(shown):
        left = x + i * pitch
        word = f'<text class="gc-soft" x="{left + 8:.1f}" y="{y + 4.5:.1f}">{escape(symbol)}</text>' if room else ""
        parts.append(f'<g aria-hidden="true"><title>{escape(spoken)}</title>{glyph(state, left, y, 4.5)}{word}</g>')
    behind = x + len(shown) * pitch
    if more := len(pin.marks) - len(shown):
        parts.append(f'<text class="gc-soft" x="{behind - 3:.1f}" y="{y + 4.5:.1f}" aria-hidden="true">+{more}</text>')
        behind += 2 * pitch
    if pin.group:
        parts.append(f'<text class="gc-group" x="{behind:.1f}" y="{y + 4.5:.1f}">{escape(pin.group)}</text>')
    return "".join(parts)


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
        return (
            f'<circle class="gc-full" cx="{x:.1f}" cy="{y:.1f}" r="{r:g}"/><path class="gc-tick" d="M{x - r * 0.5:.1f}'
            f' {y:.1f}l{r * 0.4:.1f} {r * 0.4:.1f} {r * 0.65:.1f}-{r * 0.8:.1f}"/>'
        )
    if state == "void":
        return f'{ring}<path class="gc-void" d="M{x - r * 0.6:.1f} {y - r * 0.6:.1f}l{r * 1.2:.1f} {r * 1.2:.1f}"/>'
    return ring


@lru_cache(maxsize=512)
def _texture(texture: Texture, top: float, bottom: float) -> str:
    rng = random.Random(texture.seed)
    grains = _grains(texture.grading, rng, top, bottom) if texture.grading else ""
    if texture.non_plastic and not texture.grading:
        count = int((bottom - top) * STRIP_WIDTH / 55)
        return "".join(
            f'<circle class="gc-dot" cx="{SCALE_WIDTH + rng.random() * STRIP_WIDTH:.1f}" '
            f'cy="{top + rng.random() * (bottom - top):.1f}" r="{0.6 + rng.random():.1f}"/>'
            for _ in range(count)
        )
    if texture.plasticity_index is None:
        return grains
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
    return "".join(parts) + grains


def _grains(grading: tuple[tuple[float, float], ...], rng: random.Random, top: float, bottom: float) -> str:
    """Return sand as dots and gravel as open circles, as many as their share and as large as the curve says
    (log-scaled)."""
    points = sorted(grading)
    sizes = [math.log(d) for d, _ in points]
    shares = [p for _, p in points]
    passing_fines = _interpolated(math.log(0.075), sizes, shares)
    parts = []
    for _ in range(int((bottom - top) * STRIP_WIDTH / 60 * (100 - passing_fines) / 100)):
        size = math.exp(_interpolated(passing_fines + rng.random() * (100 - passing_fines), shares, sizes))
        radius = 0.7 + 0.62 * math.log(size / 0.06)
        kind = "gc-open" if size > 4.75 else "gc-dot"
        x, y = SCALE_WIDTH + rng.random() * STRIP_WIDTH, top + rng.random() * (bottom - top)
        parts.append(f'<circle class="{kind}" cx="{x:.1f}" cy="{y:.1f}" r="{max(0.6, radius):.1f}"/>')
    return "".join(parts)


def _interpolated(x: float, xs: list[float], ys: list[float]) -> float:
    """Return y at x, straight between points and held beyond them."""
    at = bisect.bisect_left(xs, x)
    if at == 0 or at == len(xs):
        return ys[0] if at == 0 else ys[-1]
    span = xs[at] - xs[at - 1]
    return ys[at] if span <= 0 else ys[at - 1] + (ys[at] - ys[at - 1]) * (x - xs[at - 1]) / span
