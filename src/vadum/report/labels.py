"""Labels for samples and tins: what stands on them in words, and a code that a phone or a scanner reads."""

import json
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import segno

from vadum.records.tables import Equipment, Sample
from vadum.report.setting import typeset

_TEMPLATES = Path(__file__).parent / "templates"


@dataclass(frozen=True)
class Label:
    """A label: what its code says, its name in large letters, and what stands below."""

    code: str
    name: str
    lines: tuple[str, ...]


def of_sample(sample: Sample, address: str) -> Label:
    """Return the label of a sample; its code is the address of its page."""
    depth = f"{sample.top_m:.2f} to {sample.base_m:.2f} m, {sample.kind}"
    place = sample.location
    return Label(address, f"{place.name} {sample.name}", (depth, place.project.name, sample.description[:40]))


def of_tin(tin: Equipment) -> Label:
    """Return the label of a tin; its code is its number, as it is typed into a sheet.

    Its tare is not on it: a tin is weighed again, and the label would stay.
    """
    return Label(tin.name, tin.name, ())


def labels(every: Sequence[Label]) -> bytes:
    """Return labels as a PDF of A4 sheets, three by eight of 70 x 37 mm."""
    with tempfile.TemporaryDirectory(prefix="vadum-") as folder:
        root = Path(folder)
        printed = []
        for i, one in enumerate(every):
            # Lost corners and soil on the paper: a quarter of the code may be gone.
            segno.make(one.code, error="q", micro=False).save(str(root / f"{i}.svg"), border=2)
            printed.append({"file": f"{i}.svg", "name": one.name, "lines": [line for line in one.lines if line]})
        (root / "labels.json").write_text(json.dumps(printed), encoding="utf-8")
        (root / "labels.typ").write_text((_TEMPLATES / "labels.typ").read_text(encoding="utf-8"), encoding="utf-8")
        return typeset(root, "labels.typ", "labels.json")[0]
