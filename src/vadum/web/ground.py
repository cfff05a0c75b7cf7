"""From records to a ground column: which texture a stratum earns, which mark a sample's tests leave on its pin."""

from vadum.drawing.ground import Layer, Pin, Texture, draw_ground
from vadum.records.tables import STATES, Location, Sample, Stratum, Test
from vadum.soil.registry import METHODS

_SYMBOLS = {
    "water-content": "w",
    "liquid-limit": "LL",
    "plastic-limit": "PL",
    "sieve": "grading",
    "hydrometer": "fines",
    "particle-density": "Gs",
    "ring-density": "ring",
    "excavation-density": "hole",
    "compaction": "ρd max",
    "classification": "class",
    "cbr-lab": "CBR",
    "unconfined": "qu",
    "triaxial": "c′ φ′",
    "direct-shear": "φ′",
}


def ground_column(location: Location, chosen: Sample | None = None, *, narrow: bool = False) -> str:
    """Return the column of a location: narrow beside a worksheet, wide with the marks of all tests otherwise."""
    narrow = narrow or chosen is not None
    layers = [
        Layer(s.top_m, s.base_m, _titled(s, location.samples), _texture(s, location.samples)) for s in location.strata
    ]
    pins = [
        Pin(
            top_m=sample.top_m,
            base_m=sample.base_m,
            label=sample.name,
            state=sample_state(sample),
            href=f"/samples/{sample.id}",
            spoken=f"Sample {sample.name}, {sample.top_m:.2f} to {sample.base_m:.2f} m, {_spoken(sample)}",
            chosen=chosen is not None and chosen.id == sample.id,
            group="" if narrow else _group(sample),
            marks=() if narrow else tuple(_mark(test) for test in sample.tests if test.state != "void"),
        )
        for sample in location.samples
    ]
    width, height = (158, 640) if narrow else (300, 420)
    return draw_ground(f"l{location.id}", location.depth_m, layers, pins, width=width, height=height)


def _group(sample: Sample) -> str:
    """Return the sample's group symbol, when its class is decided."""
    for test in sample.tests:
        if test.method == "classification" and test.state != "void" and test.summary.get("complete"):
            return str(test.summary["parameters"]["group_symbol"]["text"])
    return ""


def _titled(stratum: Stratum, samples: list[Sample]) -> str:
    return "; ".join(filter(None, (stratum.description or "not described", _class(stratum, samples))))


def sample_state(sample: Sample) -> str:
    """Return the least advanced state of the sample's tests under way; planned while there is none."""
    states = [test.state for test in sample.tests if test.state != "void"]
    if any(state == "running" for state in states):
        return "running"
    return min(states, key=STATES.index) if states else "planned"


def _spoken(sample: Sample) -> str:
    return ", ".join(f"{METHODS[t.method].title} {t.state}" for t in sample.tests) or "no test planned"


def _mark(test: Test) -> tuple[str, str, str]:
    return test.state, _SYMBOLS.get(test.method, ""), f"{METHODS[test.method].title}: {test.state}"


def _texture(stratum: Stratum, samples: list[Sample]) -> Texture | None:
    """Return what the tests of the stratum's samples say of it; None while they say nothing."""
    for sample in samples:
        if not stratum.top_m <= (sample.top_m + sample.base_m) / 2 < stratum.base_m:
            continue
        live = [test for test in sample.tests if test.state != "void"]
        index = next((i for test in live if (i := test.summary.get("parameters", {}).get("plasticity_index"))), None)
        grading = tuple(
            (d, p) for test in live if test.method in ("sieve", "hydrometer") for d, p in test.summary.get("curve", [])
        )
        if index or grading:
            return Texture(
                sample.id or 0,
                index["reported"] if index else None,
                non_plastic=index is not None and index["text"] == "NP",
                grading=grading,
            )
    return None


def _class(stratum: Stratum, samples: list[Sample]) -> str:
    """Return the group name the stratum's samples were given, with its symbol."""
    for sample in samples:
        if stratum.top_m <= (sample.top_m + sample.base_m) / 2 < stratum.base_m:
            for test in sample.tests:
                found = test.summary.get("parameters", {})
                if test.method == "classification" and test.state != "void" and "group_name" in found:
                    return f"{found['group_name']['text']} ({found['group_symbol']['text']})"
    return ""
