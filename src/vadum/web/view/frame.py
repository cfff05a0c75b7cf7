"""What of a worksheet stays while numbers are typed into it: its headings and its settings, made once for each way a
method is set."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from vadum.soil.contract.cells import cell_text
from vadum.soil.contract.field import HARMLESS
from vadum.soil.contract.layout import Heading, Layout, layout
from vadum.soil.contract.layout import Table as TableOf
from vadum.soil.contract.method import Method
from vadum.web.view.models import Column, Option, Setting, Single, Worked

_REMEMBERED = 256


@dataclass(frozen=True)
class FramedTable:
    """A table with the columns that are shown, each beside what declares it."""

    of: TableOf
    headings: list[tuple[Heading, Column]]
    columns: list[Column]
    worked: list[Worked]


@dataclass(frozen=True)
class Frame:
    """The headings of a sheet; single readings are blank, each beside what declares it. Nobody writes through it."""

    tables: list[FramedTable]
    singles: list[tuple[Heading, Single]]
    settings: list[Setting]


def framed(method: Method[Any, Any, Any], chosen: Any) -> Frame:
    """Return the headings of a method's sheet under its settings."""
    return _framed(method, chosen.model_dump_json())


@lru_cache(_REMEMBERED)
def _framed(method: Method[Any, Any, Any], settings: str) -> Frame:
    chosen, laid = method.Settings.model_validate_json(settings), layout(method)
    return Frame(
        tables=[_table(table, chosen) for table in laid.tables if table.shown_in(chosen)],
        singles=list(_singles(laid, chosen)),
        settings=settings_view(method, chosen),
    )


def _table(table: TableOf, chosen: Any) -> FramedTable:
    headings = [(h, Column(**_column(h, chosen))) for h in table.columns if h.shown_in(chosen)]
    return FramedTable(
        of=table,
        headings=headings,
        columns=[column for _, column in headings],
        worked=[Worked(key=c.key, label=c.label, unit=c.unit) for c in table.worked],
    )


def _singles(laid: Layout, chosen: Any) -> Iterator[tuple[Heading, Single]]:
    before = laid.before(chosen)
    for heading in laid.singles:
        if heading.key == "remarks" or not heading.shown_in(chosen):
            continue
        yield (
            heading,
            Single(
                **_column(heading, chosen),
                path=heading.key,
                supplied=False,
                locks=str(heading.extra.get("locks") or ""),
                before=before[heading.key],
                pictured=bool(heading.extra.get("pictured")),
                text="",
                error="",
                findings=[],
            ),
        )


def _column(heading: Heading, chosen: Any) -> dict[str, Any]:
    extra = heading.extra
    return {
        "key": heading.key,
        "label": heading.label,
        "unit": heading.unit,
        "about": heading.about,
        "kind": heading.kind,
        "choices": _options(heading),
        "by": extra.get("by") or "",
        "count_to": extra.get("count_to"),
        "since": extra.get("since") or "",
        "measured": bool(extra.get("instrument")),
        "optional": extra.get("absent") == HARMLESS,
        "beside": extra.get("beside") or "",
        "instead": extra.get("instead") or "",
        "resolution": heading.resolution,
        "step": getattr(chosen, extra["step"]) if extra.get("step") else None,
        "expected": range_text(extra.get("expected")),
        "hand": extra.get("hand") or "right",
    }


def settings_view(method: Method[Any, Any, Any], chosen: Any) -> list[Setting]:
    """Return the settings of a method as a page shows them."""
    found = []
    for heading in layout(method).settings:
        info = method.Settings.model_fields[heading.key]
        value = getattr(chosen, heading.key)
        kind = "choice" if heading.choices else "switch" if info.annotation is bool else "number"
        found.append(
            Setting(
                name=heading.key,
                label=heading.label,
                reason=heading.about,
                unit=str(heading.extra.get("unit") or ""),
                kind=kind,
                choices=_options(heading),
                value=value if kind == "switch" else cell_text(value, None) if kind == "number" else value,
                is_default=value == info.default,
            )
        )
    return found


def _options(heading: Heading) -> list[Option]:
    return [Option(code=code, label=label) for code, label in heading.choices.items()]


def range_text(bounds: tuple[float, float] | None) -> str:
    """Return what is expected in a cell: one number, or from which to which."""
    if not bounds:
        return ""
    low, high = bounds
    return f"{low:g}" if low == high else f"{low:g}–{high:g}"
