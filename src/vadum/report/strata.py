"""From records to the layers of a ground column: what a stratum is called, which texture its tests earn it."""

from vadum.drawing.column import Layer, Texture
from vadum.records.context import Only, every
from vadum.records.standing import FROZEN
from vadum.records.tables import Location, Sample, Stratum, Test
from vadum.soil.contract.method import GRADINGS
from vadum.soil.registry import method as method_of


def layers_of(location: Location, only: Only = every) -> list[Layer]:
    """Return the strata of a location as its own tests, those that satisfy ``only``, say they are."""
    samples = location.samples
    return [Layer(s.top_m, s.base_m, _titled(s, samples, only), _texture(s, samples, only)) for s in location.strata]


def group_of(sample: Sample, only: Only = every, unchecked: str = "") -> str:
    """Return the sample's group symbol, when its class is decided; with the mark of a class that nobody has checked."""
    for test in _reportable(sample, only):
        if found := test.summary.get("parameters", {}).get("group_symbol"):
            symbol = str(found["text"])
            return symbol if test.state in FROZEN else f"{symbol}{unchecked}"
    return ""


def _reportable(sample: Sample, only: Only) -> list[Test]:
    return [t for t in sample.tests if t.state != "void" and t.summary.get("reportable") and only(t)]


def _titled(stratum: Stratum, samples: list[Sample], only: Only) -> str:
    return "; ".join(filter(None, (stratum.description or "not described", _class(stratum, samples, only))))


def _texture(stratum: Stratum, samples: list[Sample], only: Only) -> Texture | None:
    """Return what the tests of the stratum's samples say of it; None while they say nothing."""
    for sample in samples:
        if not stratum.top_m <= (sample.top_m + sample.base_m) / 2 < stratum.base_m:
            continue
        live = _reportable(sample, only)
        index = next((i for test in live if (i := test.summary.get("parameters", {}).get("plasticity_index"))), None)
        grading = tuple(
            (d, p)
            for test in live
            if method_of(test.method).curve_is in GRADINGS
            for d, p in test.summary.get("curve", [])
        )
        if index or grading:
            return Texture(
                sample.id or 0,
                index["reported"] if index else None,
                non_plastic=index is not None and index["text"] == "NP",
                grading=grading,
            )
    return None


def _class(stratum: Stratum, samples: list[Sample], only: Only) -> str:
    """Return the group name the stratum's samples were given, with its symbol."""
    for sample in samples:
        if stratum.top_m <= (sample.top_m + sample.base_m) / 2 < stratum.base_m:
            for test in _reportable(sample, only):
                found = test.summary.get("parameters", {})
                if "group_name" in found:
                    return f"{found['group_name']['text']} ({found['group_symbol']['text']})"
    return ""
