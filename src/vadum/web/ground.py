"""From records to a ground column: which texture a stratum earns, which mark a sample's tests leave on its pin."""

from vadum.drawing.ground import Layer, Pin, Texture, draw_ground
from vadum.records.tables import STATES, Location, Sample, Stratum, Test
from vadum.soil.registry import METHODS

_SYMBOLS = {"water-content": "w", "liquid-limit": "LL", "plastic-limit": "PL"}


def ground_column(location: Location, chosen: Sample | None = None) -> str:
    """Return the column of a location: narrow with one sample chosen, wide with the marks of all tests otherwise."""
    layers = [
        Layer(s.top_m, s.base_m, s.description or "not described", _texture(s, location.samples))
        for s in location.strata
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
            marks=() if chosen else tuple(_mark(test) for test in sample.tests if test.state != "void"),
        )
        for sample in location.samples
    ]
    width, height = (158, 640) if chosen else (300, 420)
    return draw_ground(f"l{location.id}", location.depth_m, layers, pins, width=width, height=height)


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
    for sample in samples:
        if not stratum.top_m <= (sample.top_m + sample.base_m) / 2 < stratum.base_m:
            continue
        for test in sample.tests:
            index = test.summary.get("parameters", {}).get("plasticity_index")
            if index and test.state != "void":
                return Texture(sample.id or 0, index["reported"], non_plastic=index["text"] == "NP")
    return None
