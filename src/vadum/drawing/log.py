"""The log of a location: the ground column to scale with its layers in words, samples, and results beside their
depth."""

import textwrap
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from html import escape

from vadum.drawing.column import BOTTOM, SCALE_WIDTH, STRIP_WIDTH, Layer, strip
from vadum.drawing.scale import linear_ticks
from vadum.drawing.theme import stylesheet
from vadum.drawing.words import ADVANCE

_TOP = 58.0
_LINE = 14.0
_WORDS, _SAMPLE, _GAP, _MARGIN = 146.0, 58.0, 20.0, 14.0
_TRACK = 94.0


@dataclass(frozen=True)
class Reading:
    """A value at a depth range; ``bar`` is a stretch drawn through it, such as from plastic to liquid limit."""

    value: float
    top_m: float
    base_m: float
    bar: tuple[float, float] | None = None


@dataclass(frozen=True)
class Track:
    """Values of one quantity along the depth; ``joined`` ones are connected, as a profile."""

    heading: str
    note: str
    high: float
    readings: Sequence[Reading]
    joined: bool = False


@dataclass(frozen=True)
class Taken:
    """A sample with the results written beside it."""

    label: str
    top_m: float
    base_m: float
    words: str


def draw_log(
    key: str,
    depth_m: float,
    layers: list[Layer],
    samples: list[Taken],
    tracks: list[Track],
    *,
    width: float,
    height: float,
) -> str:
    """Return the log as SVG for print: scale, column, layers in words, samples, results, and up to three tracks."""
    down = height - _TOP - BOTTOM

    def y(depth: float) -> float:
        return _TOP + min(depth, depth_m) / depth_m * down

    beside = SCALE_WIDTH + STRIP_WIDTH + 8
    sampled = beside + _WORDS
    tracked = width - _MARGIN - len(tracks) * (_TRACK + _GAP)
    results = sampled + _SAMPLE
    parts = [
        _head(SCALE_WIDTH - 12, "m", "end"),
        _head(beside, "ground"),
        _head(sampled, "sample"),
        _head(results, "results"),
        *strip(key, depth_m, layers, y),
        *_described(layers, y, beside, _WORDS - 12, depth_m),
        *_sampled(samples, y, sampled, results, tracked - results - 10, height),
    ]
    for i, track in enumerate(tracks):
        parts += _track(track, y, depth_m, tracked + _GAP + i * (_TRACK + _GAP), _TRACK)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="gc" viewBox="0 0 {width:g} {height:g}" width="{width:g}" '
        f'height="{height:g}" role="img" aria-label="Log, {depth_m:g} m deep"><style>{stylesheet("print")}</style>'
        f"{''.join(parts)}</svg>"
    )


def _head(x: float, words: str, anchor: str = "start", y: float = 18.0) -> str:
    return f'<text class="gc-head" x="{x:g}" y="{y:g}" text-anchor="{anchor}">{escape(words)}</text>'


def _described(layers: list[Layer], y: Callable[[float], float], x: float, width: float, depth_m: float) -> list[str]:
    """Return each layer's words from its top on; those of a thin one are cut to its thickness, never over the next."""
    parts = []
    for layer in layers:
        top, bottom = y(layer.top_m), y(min(layer.base_m, depth_m))
        parts.append(f'<path class="gc-faint" d="M{x - 8:g} {top:.1f}h{width + 8:g}"/>')
        words = f"{layer.top_m:g}–{layer.base_m:g} m {layer.title}"
        parts += _wrapped(words, x, top + 12, width, max(1, int((bottom - top - 2) // _LINE)))
    return parts


def _sampled(
    samples: list[Taken], y: Callable[[float], float], x: float, results: float, width: float, height: float
) -> list[str]:
    """Return each sample at its depth with its results; a label too close below another moves down, its line bends.

    Under a name longer than its place the results begin below it.
    """
    parts, free = [], 0.0
    letters, whole = max(8, int(width / ADVANCE)), int((results - x - 14 + width) / ADVANCE)
    for sample in sorted(samples, key=lambda s: s.top_m):
        beside = (len(sample.label) + 1) * ADVANCE <= results - x - 14
        names = [sample.label] if beside else textwrap.wrap(sample.label, whole)
        above = 0 if beside else len(names)
        lines = textwrap.wrap(sample.words, letters) or [""]
        middle = y((sample.top_m + sample.base_m) / 2)
        at = max(middle, free)
        at = min(at, height - 6 - (above + len(lines) - 1) * _LINE)
        parts.append(f'<path class="gc-span" d="M{x:g} {y(sample.top_m):.1f}V{y(sample.base_m):.1f}"/>')
        parts.append(f'<path class="gc-stem" d="M{x:g} {middle:.1f}L{x + 10:g} {at:.1f}"/>')
        parts += [
            f'<text class="gc-head" x="{x + 14:g}" y="{at + 4 + i * _LINE:.1f}">{escape(one)}</text>'
            for i, one in enumerate(names)
        ]
        parts += [
            f'<text x="{results:g}" y="{at + 4 + i * _LINE:.1f}">{escape(one)}</text>'
            for i, one in enumerate(lines, above)
        ]
        free = at + (above + len(lines)) * _LINE + 4
    return parts


def _wrapped(words: str, x: float, y: float, width: float, most: int) -> list[str]:
    letters = max(8, int(width / ADVANCE))
    lines = textwrap.wrap(words, letters, max_lines=most, placeholder=" …")
    return [
        f'<text class="gc-soft" x="{x:g}" y="{y + i * _LINE:.1f}">{escape(one)}</text>' for i, one in enumerate(lines)
    ]


def _track(track: Track, y: Callable[[float], float], depth_m: float, left: float, width: float) -> list[str]:
    def x(value: float) -> float:
        return left + min(1.0, max(0.0, value / track.high)) * width

    top, bottom = y(0), y(depth_m)
    parts = [_head(left, track.heading), f'<text class="gc-soft" x="{left:g}" y="33">{escape(track.note)}</text>']
    ticks = linear_ticks(0, track.high, 3)
    for tick in ticks:
        parts.append(f'<path class="gc-faint" d="M{x(tick):.1f} {top:g}V{bottom:g}"/>')
        parts.append(f'<text class="gc-soft" x="{x(tick):.1f}" y="{top - 5:g}" text-anchor="middle">{tick:g}</text>')
    parts.append(f'<path class="gc-line" d="M{left:g} {top:g}V{bottom:g}M{left:g} {top:g}h{width:g}"/>')
    middles = [(x(r.value), y((r.top_m + r.base_m) / 2)) for r in track.readings]
    if track.joined and len(middles) > 1:
        parts.append(f'<polyline class="gc-profile" points="{" ".join(f"{a:.1f},{b:.1f}" for a, b in middles)}"/>')
    for reading, (across, at) in zip(track.readings, middles, strict=True):
        if reading.bar:
            ends = [x(v) for v in reading.bar]
            parts.append(f'<path class="gc-bar" d="M{ends[0]:.1f} {at - 5:.1f}v10m0-5H{ends[1]:.1f}m0-5v10"/>')
        parts.append(f'<circle class="gc-value" cx="{across:.1f}" cy="{at:.1f}" r="4.2"/>')
    return parts
