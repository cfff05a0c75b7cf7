"""Method pages written from the methods, so that they cannot drift from the code."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from vadum.exchange.bench_file import example_of
from vadum.soil.contract.layout import Heading, layout
from vadum.soil.contract.method import Method
from vadum.soil.contract.pipeline import SHARED
from vadum.soil.numbers.written import in_words
from vadum.soil.registry import METHODS


def write_pages(folder: Path) -> list[Path]:
    """Write one page per method and return their paths."""
    folder.mkdir(parents=True, exist_ok=True)
    pages = []
    for method in METHODS.values():
        page = folder / f"{method.code}.md"
        page.write_text(method_page(method), encoding="utf-8")
        pages.append(page)
    return pages


def write_examples(folder: Path) -> list[Path]:
    """Write the example of every method as a bench file and return their paths."""
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    for code in METHODS:
        path = folder / f"{code}.json"
        path.write_text(example_of(code), encoding="utf-8")
        written.append(path)
    return written


def _meaning(heading: Heading) -> str:
    return "; ".join(part for part in (heading.about, _choices(heading)) if part)


def _choices(heading: Heading) -> str:
    """Return the words of a choice, each behind the code that files and scripts know it by, where they differ."""
    return "; ".join(label if code == label else f"`{code}` {label}" for code, label in heading.choices.items())


def method_page(method: Method[Any, Any, Any], *, in_application: bool = False) -> str:
    """Return the page of a method as Markdown; in the application without a word to developers."""
    about = (type(method).__doc__ or "").strip().splitlines()[0]
    parts = [
        f"# {method.title}\n",
        f"`{method.code}`, version {method.version}. {about} Follows {', '.join(method.basis)}.\n",
        *([] if in_application else ["Written by `make docs` from the code; change the method, not this page.\n"]),
        "## Equations\n",
        "| gives | equation | source |\n|---|---|---|",
        *(f"| {e.gives} | `{e.equation}` | {e.source} |" for e in method.equations),
        "\n## Readings\n",
    ]
    laid = layout(method)
    for table in laid.tables:
        parts += [f"Table `{table.name}`, one row each:\n", _fields(table.columns), ""]
    for file in laid.logs:
        columns = ", ".join(f"`{column.key}`" for column in file.columns)
        parts += [f"Logger file `{file.name}`, columns of one length: {columns}.\n"]
    if laid.singles:
        parts += ["Once per test:\n", _fields(laid.singles), ""]
    parts += ["## Schools and settings\n", "| setting | default | choices | why |\n|---|---|---|---|"]
    for one in laid.settings:
        default = method.Settings.model_fields[one.key].default
        said = "automatic" if default is None else default
        parts.append(f"| `{one.key}` | {said} | {_choices(one)} | {one.about} |")
    parts += ["\n## What it gives\n", "| key | symbol | meaning | unit | reported |", "|---|---|---|---|---|"]
    parts += [
        f"| `{r.key}` | {r.entry[0]} | {r.entry[1]} | {r.unit} | {r.rounding.words if r.rounding else ''} |"
        for r in method.results
    ]
    parts += [
        "\n## What it may find wrong\n",
        "| finding | how grave | what it says | what to do |",
        "|---|---|---|---|",
    ]
    parts += [
        f"| `{d.code}` | {d.severity} | {in_words(d.says)} | {in_words(d.do)} |" for d in (*method.findings, *SHARED)
    ]
    parts += ["\n## Procedure\n", *(f"{i}. {step.text}" for i, step in enumerate(method.steps, 1))]
    parts += ["\n## Cautions\n", *(f"- {caution}" for caution in method.cautions)]
    if method.limits:
        parts += ["\n## What the test cannot say\n", *(f"- {limit}" for limit in method.limits)]
    if method.mistakes:
        parts += ["\n## Mistakes the virtual bench can plant\n", *(f"- `{k}`: {v}" for k, v in method.mistakes.items())]
    return "\n".join(parts) + "\n"


def _fields(headings: Sequence[Heading]) -> str:
    lines = ["| field | heading | unit | meaning |", "|---|---|---|---|"]
    lines += [f"| `{one.key}` | {one.label} | {one.extra.get('unit') or ''} | {_meaning(one)} |" for one in headings]
    return "\n".join(lines)
