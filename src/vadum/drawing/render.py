"""Figure data to an accessible SVG."""

import math
from collections.abc import Sequence
from dataclasses import replace
from html import escape
from itertools import accumulate

import numpy as np

from vadum.drawing.labels import Box, Labels, text_width
from vadum.drawing.path import render_path
from vadum.drawing.scale import Scale
from vadum.drawing.theme import stylesheet
from vadum.soil.contract.figure import Axis, Band, Drawing, Figure, Handle, Line, Mark, Path, Point, Region

LEFT, RIGHT, TOP, BOTTOM = 56.0, 20.0, 40.0, 52.0
BAND, NAMED = 30.0, 20.0
_REGION_LABELS = ("zone", "chosen", "solid", "coarse", "water", "air")


def render(
    figure: Drawing, width: float = 660, height: float = 620, theme: str | None = None, *, operable: bool = False
) -> str:
    """Return the drawing as SVG.

    Arguments
    ---------
    figure : what to draw
    width, height : px
    theme : ``light``, ``dark`` or ``print`` for a file that stands alone; None for a page, which brings the
        stylesheet and reads points off it
    operable : whether points and handles can be pressed: on a sheet that may be changed
    """
    if isinstance(figure, Path):
        return render_path(figure, width, height, theme)
    return _Drawing(figure, width, height, theme, operable).svg()


class _Drawing:
    """One rendering: two scales, the labels placed so far, and the parts in drawing order."""

    def __init__(self, figure: Figure, width: float, height: float, theme: str | None, operable: bool) -> None:
        self.figure, self.width, self.height, self.theme = figure, width, height, theme
        self.operable = operable
        above = (BAND if figure.bands else 0.0) + (NAMED if figure.x.named else 0.0)
        left = 12.0 if figure.y.hidden else LEFT
        bottom = 12.0 if figure.x.hidden else BOTTOM
        self.plot = plot = Box(left, TOP + above, width - (12.0 if figure.x.hidden else RIGHT), height - bottom)
        if figure.equal:
            self.figure = figure = _to_one_scale(figure, plot.right - plot.left, plot.bottom - plot.top)
        self.x = Scale(figure.x, self.plot.left, self.plot.right)
        y_from, y_to = (self.plot.top, self.plot.bottom) if figure.y.down else (self.plot.bottom, self.plot.top)
        self.y = Scale(figure.y, y_from, y_to)
        self.labels = Labels(self.plot)
        self.traces = list(zip(figure.lines, self._pixels(figure.lines), strict=True))
        self.marks = [(series, mark, *self._place(mark)) for series in figure.series for mark in series.marks]
        self.id = f"vf-{figure.key}"

    def _pixels(self, drawn: Sequence[Line | Region]) -> list[list[Point]]:
        """Return the points of each line or region in pixels, of all at once."""
        x, y = np.array([point for one in drawn for point in one.points], dtype=float).reshape(-1, 2).T
        pixels = list(zip(self.x.of_many(x).tolist(), self.y.of_many(y).tolist(), strict=True))
        ends = accumulate(len(one.points) for one in drawn)
        return [pixels[end - len(one.points) : end] for one, end in zip(drawn, ends, strict=True)]

    def svg(self) -> str:
        for _, _, x, y, _ in self.marks:
            self.labels.keep_clear(x, y, 7)
        self.labels.keep_lines_clear([(line.key if line.label else "", pixels) for line, pixels in self.traces])
        body = [
            *self._regions(),
            *self._grid(),
            *(self._line(line, pixels) for line, pixels in self.traces),
            *self._result(),
            *self._marks(),
            *(self._handle(handle) for handle in self.figure.handles if self.operable),
            *self._line_labels(),
            *(self._bands() if self.figure.bands else ()),
            *(self._named() if self.figure.x.named else ()),
            *self._frame(),
        ]
        role = "group" if self.operable else "img"
        style = f"<style>{stylesheet(self.theme)}</style>" if self.theme else ""
        paper = (
            f'<rect width="{self.width:g}" height="{self.height:g}" class="vf-paper"/>' if self.theme == "dark" else ""
        )
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" class="vf" viewBox="0 0 {self.width:g} {self.height:g}" '
            f'role="{role}" aria-labelledby="{self.id}-title {self.id}-desc"{self._mapping()}>'
            f'<title id="{self.id}-title">{escape(self.figure.title)}</title>'
            f'<desc id="{self.id}-desc">{escape(self.figure.description)}</desc>{style}{paper}'
            f'<clipPath id="{self.id}-clip"><rect x="{self.plot.left:g}" y="{self.plot.top:g}" '
            f'width="{self.plot.right - self.plot.left:g}" height="{self.plot.bottom - self.plot.top:g}"/></clipPath>'
            f"{''.join(body)}</svg>"
        )

    def _mapping(self) -> str:
        """Return what a pointer needs to turn pixels back into values."""
        if self.theme:
            return f' width="{self.width:g}" height="{self.height:g}"'

        def of(name: str, axis: Axis) -> str:
            return (
                f' data-{name}-scale="{axis.scale}" data-{name}-low="{axis.low:g}" data-{name}-high="{axis.high:g}"'
                f' data-{name}-label="{escape(axis.label)}" data-{name}-unit="{escape(axis.unit)}"'
            )

        plot = f"{self.plot.left:g} {self.plot.top:g} {self.plot.right:g} {self.plot.bottom:g}"
        down = ' data-y-down=""' if self.figure.y.down else ""
        return (
            f' data-figure="{self.figure.key}" data-plot="{plot}"{down}{of("x", self.figure.x)}{of("y", self.figure.y)}'
        )

    def _regions(self) -> list[str]:
        parts = []
        for region, pixels in zip(self.figure.regions, self._pixels(self.figure.regions), strict=True):
            points = " ".join([f"{x:.1f},{y:.1f}" for x, y in pixels])
            parts.append(f'<polygon class="vf-{region.role}" points="{points}"{self._clip}/>')
            if region.label and region.role in _REGION_LABELS:
                x, y = sum(x for x, _ in pixels) / len(pixels), sum(y for _, y in pixels) / len(pixels) + 4.5
                self.labels.keep_clear(x, y - 4, 9)
                role = "vf-soft" if region.role in ("zone", "air") else "vf-on"
                parts.append(
                    f'<text class="{role}" x="{x:.1f}" y="{y:.1f}" text-anchor="middle">{escape(region.label)}</text>'
                )
        return parts

    def _bands(self) -> list[str]:
        top = self.plot.top - BAND - (NAMED if self.figure.x.named else 0.0)
        parts = []
        for band in self.figure.bands:
            divided = band.parts if len(band.parts) > 1 else []
            share = BAND / 2 if divided else BAND
            parts += self._band(band, top, share)
            parts += [piece for part in divided for piece in self._band(part, top + share, share)]
        return parts

    def _band(self, band: Band, top: float, height: float) -> list[str]:
        left, right = self.x(band.low), self.x(band.high)
        parts = [f'<rect class="vf-band" x="{left:.1f}" y="{top:.1f}" width="{right - left:.1f}" height="{height:g}"/>']
        # A name too wide for its strip is cut to its first letter, never squeezed over its neighbour.
        text = next((t for t in (band.label, band.label[:1]) if text_width(t, 12) < right - left - 2), "")
        middle = f'x="{(left + right) / 2:.1f}" y="{top + height / 2 + 4:.1f}"'
        return [*parts, f'<text class="vf-small" {middle} text-anchor="middle">{escape(text)}</text>']

    def _named(self) -> list[str]:
        top, parts, free_until = self.plot.top, [], -100.0
        for at, name in sorted(self.figure.x.named):
            x, half = self.x(at), text_width(name, 11) / 2
            parts.append(f'<path class="vf-tick" d="M{x:.1f} {top:g}v-4"/>')
            if x - half > free_until and x + half < self.width - 2:
                parts.append(
                    f'<text class="vf-tiny" x="{x:.1f}" y="{top - 7:g}" text-anchor="middle">{escape(name)}</text>'
                )
                free_until = x + half + 3
        return parts

    def _grid(self) -> list[str]:
        left, right, top, bottom = self.plot.left, self.plot.right, self.plot.top, self.plot.bottom
        parts = []
        last_label_end = -100.0
        for tick in self.x.ticks() if not self.figure.x.hidden else ():
            x, text = self.x(tick), tick_text(tick, self.figure.mark)
            parts.append(f'<path class="vf-grid" d="M{x:.1f} {top:g}V{bottom:g}"/>')
            # A label that would touch its neighbour is left out; the tick line stays.
            if x - 4.2 * len(text) > last_label_end:
                parts.append(
                    f'<text class="vf-soft" x="{x:.1f}" y="{bottom + 18:g}" text-anchor="middle">{text}</text>'
                )
                last_label_end = x + 4.2 * len(text)
        for tick in self.y.ticks() if not self.figure.y.hidden else ():
            y = self.y(tick)
            if not self.figure.x.hidden:
                parts.append(f'<path class="vf-grid" d="M{left:g} {y:.1f}H{right:g}"/>')
            parts.append(
                f'<text class="vf-soft" x="{left - 8:g}" y="{y + 4.5:.1f}" text-anchor="end">'
                f"{tick_text(tick, self.figure.mark)}</text>"
            )
        return parts

    def _frame(self) -> list[str]:
        left, right, top, bottom = self.plot.left, self.plot.right, self.plot.top, self.plot.bottom
        x_axis, y_axis = self.figure.x, self.figure.y
        parts = []
        if not (x_axis.hidden and y_axis.hidden):
            along = f"M{left:g} {top:g}H{right:g}" if y_axis.down else f"M{left:g} {bottom:g}H{right:g}"
            line = f"M{left:g} {top:g}V{bottom:g}" + ("" if x_axis.hidden else along)
            parts.append(f'<path class="vf-axis" d="{line}"/>')
        if not y_axis.hidden:
            parts.append(f'<text x="6" y="{TOP - 18:g}">{escape(heading(y_axis))}</text>')
        if not x_axis.hidden:
            parts.append(
                f'<text x="{(left + right) / 2:.1f}" y="{bottom + 42:g}"'
                f' text-anchor="middle">{escape(heading(x_axis))}</text>'
            )
        if self.figure.caption:
            # Beside the heading of the axis where both fit, else below it.
            both = text_width(heading(y_axis), 13) + text_width(self.figure.caption, 13) + 24
            y = TOP - 18 if y_axis.hidden or both < right else TOP - 4
            parts.append(
                f'<text class="vf-soft" x="{right:g}" y="{y:g}" text-anchor="end">{escape(self.figure.caption)}</text>'
            )
        return parts

    @property
    def _clip(self) -> str:
        return f' clip-path="url(#{self.id}-clip)"'

    def _line(self, line: Line, pixels: list[Point]) -> str:
        points = " ".join([f"{x:.1f},{y:.1f}" for x, y in pixels])
        role = "line-company" if line.role == "company" else line.role
        drawn = f'<polyline class="vf-{role}" points="{points}"{self._clip}/>'
        return drawn + (self._arrow(pixels) if line.arrow and len(pixels) > 1 else "")

    def _arrow(self, pixels: list[Point]) -> str:
        """Return a chevron in the middle of a line, pointing the way the test went."""
        middle = (len(pixels) - 1) // 2
        (x0, y0), (x1, y1) = pixels[middle : middle + 2]
        angle = math.degrees(math.atan2(y1 - y0, x1 - x0))
        at = f"translate({(x0 + x1) / 2:.1f} {(y0 + y1) / 2:.1f}) rotate({angle:.0f})"
        return f'<path class="vf-arrow" d="M-6 -6L5 0L-6 6" transform="{at}"/>'

    def _line_labels(self) -> list[str]:
        parts = []
        for line in self.figure.lines:
            if line.label and len(line.points) > 1:
                # Beside its arrow where it has one, else near its end; further along where that is taken.
                shares = (0.5, 0.6, 0.4, 0.75, 0.25, 0.9, 0.1) if line.arrow else (0.98, 0.85, 0.7, 0.5, 0.3)
                if spot := self.labels.name_line(line.key, line.label, (self._along(line, s) for s in shares)):
                    parts.append(
                        f'<text class="vf-soft vf-clear" x="{spot.x:.1f}" y="{spot.y:.1f}">{escape(line.label)}</text>'
                    )
        return parts

    def _along(self, line: Line, share: float) -> tuple[float, float]:
        """Return the pixel a share of the way along a line by its points, kept inside the plot."""
        at = share * (len(line.points) - 1)
        before = min(int(at), len(line.points) - 2)
        (x0, y0), (x1, y1) = line.points[before : before + 2]
        x, y = self.x(x0 + (at - before) * (x1 - x0)), self.y(y0 + (at - before) * (y1 - y0))
        return min(x, self.plot.right - 4), max(y, self.plot.top + 4)

    def _result(self) -> list[str]:
        result = self.figure.result
        if result is None:
            return []
        x, y = self.x(result.x), self.y(result.y)
        self.labels.keep_clear(x, y, 7)
        parts = [f'<circle class="vf-result" cx="{x:.1f}" cy="{y:.1f}" r="5"{self._clip}/>']
        at_axis = self.labels.place(result.label, self.plot.left + 4, y, size=15, gap=6)
        if spot := at_axis or self.labels.place(result.label, x, y, size=15):
            parts.append(
                f'<text class="vf-result-label" x="{spot.x:.1f}" y="{spot.y:.1f}">{escape(result.label)}</text>'
            )
        return parts

    def _place(self, mark: Mark) -> tuple[float, float, float | None]:
        """Return the pixel of a mark, and of one beyond the plot that of the nearest edge and the angle it lies at."""
        x, y, plot = self.x(mark.x), self.y(mark.y), self.plot
        if plot.left <= x <= plot.right and plot.top <= y <= plot.bottom:
            return x, y, None
        at_x, at_y = min(max(x, plot.left), plot.right), min(max(y, plot.top), plot.bottom)
        # By less than half a pixel it lies on the edge.
        beyond = abs(x - at_x) > 0.5 or abs(y - at_y) > 0.5
        return at_x, at_y, math.degrees(math.atan2(y - at_y, x - at_x)) if beyond else None

    def _marks(self) -> list[str]:
        parts = []
        for series, mark, x, y, beyond in self.marks:
            used = mark.in_hand and not mark.left_out
            if beyond is not None:
                at = f"translate({x:.1f} {y:.1f}) rotate({beyond:.0f})"
                shape = f'<path class="vf-beyond" d="M-12 -6L0 0L-12 6Z" transform="{at}"/>'
            elif not used:
                shape = f'<path class="vf-out" d="M{x - 6:.1f} {y - 6:.1f}l12 12m0-12l-12 12"/>'
            elif series.role == "company":
                shape = f'<circle class="vf-company" cx="{x:.1f}" cy="{y:.1f}" r="4"/>'
            else:
                shape = f'<circle class="vf-point" cx="{x:.1f}" cy="{y:.1f}" r="6.5"/>'
            parts.append(self._operable_mark(mark, shape, x, y, " beyond the figure" if beyond is not None else ""))
            if mark.label and (spot := self.labels.place(mark.label, x, y)):
                role = "vf-soft" if series.role == "company" else "" if used else "vf-out-label"
                parts.append(f'<text class="{role}" x="{spot.x:.1f}" y="{spot.y:.1f}">{escape(mark.label)}</text>')
        return parts

    def _operable_mark(self, mark: Mark, shape: str, x: float, y: float, where: str) -> str:
        values = f"{mark.x:g} {self.figure.x.unit or self.figure.x.label}, {mark.y:.4g} {self.figure.y.unit}{where}"
        if self.theme:
            return shape
        data = f'data-mark="" data-values="{escape(values)}" data-x="{mark.x:g}" data-y="{mark.y:.4f}"'
        if not (mark.path and self.operable):
            return f"<g {data}>{shape}</g>"
        what = "take back into the fit" if mark.left_out else "leave out of the fit"
        return (
            f'<g class="vf-mark" {data} data-path="{mark.path}" data-left-out="{str(mark.left_out).lower()}"'
            f' tabindex="0" role="button" aria-label="{escape(values)}: {what}">{shape}<circle class="vf-hit"'
            f' cx="{x:.1f}" cy="{y:.1f}" r="18"/></g>'
        )

    def _handle(self, handle: Handle) -> str:
        x, y = self.x(handle.x), self.y(handle.y)
        now = handle.y if handle.along == "y" else handle.x
        decimals = len(f"{handle.step:g}".partition(".")[2])
        state = "set by hand" if handle.overridden else "automatic"
        return (
            f'<g class="vf-handle" data-setting="{handle.setting}" data-along="{handle.along}"'
            f' data-step="{handle.step:g}" data-unit="{escape(handle.unit)}"'
            f' tabindex="0" role="slider" aria-label="{escape(handle.label)}"'
            f' aria-valuemin="{handle.low:g}" aria-valuemax="{handle.high:g}" aria-valuenow="{now:g}"'
            f' aria-valuetext="{now:.{decimals}f}, {state}"><rect class="vf-grip" x="{x - 5:.1f}" y="{y - 5:.1f}"'
            f' width="10" height="10" transform="rotate(45 {x:.1f} {y:.1f})"/><circle class="vf-hit" cx="{x:.1f}"'
            f' cy="{y:.1f}" r="20"/></g>'
        )


def _to_one_scale(figure: Figure, width: float, height: float) -> Figure:
    """Return the figure with the axis that has room to spare lengthened until a unit is as long on both."""
    x, y = figure.x, figure.y
    per_px = max((x.high - x.low) / width, (y.high - y.low) / height)
    return replace(figure, x=replace(x, high=x.low + per_px * width), y=replace(y, high=y.low + per_px * height))


def heading(axis: Axis) -> str:
    """Return the axis title with its unit, and say when it is not a plain scale."""
    text = f"{axis.label}, {axis.unit}" if axis.unit else axis.label
    return text + {"log": " (log)", "root-time": " (root time)", "linear": ""}[axis.scale]


def tick_text(value: float, mark: str = ".") -> str:
    return f"{value:g}".replace("-", "−").replace(".", mark)
