"""From records to a ground column on a page: the mark that a sample's tests leave on its pin."""

from vadum.drawing.column import Pin, Water, draw_ground
from vadum.records.tables import STATES, Location, Sample, Test
from vadum.report.strata import group_of, layers_of
from vadum.soil.registry import METHODS


def ground_column(location: Location, chosen: Sample | None = None, *, narrow: bool = False) -> str:
    """Return the column of a location: narrow beside a worksheet, wide with the marks of all tests otherwise."""
    narrow = narrow or chosen is not None
    pins = [
        Pin(
            top_m=sample.top_m,
            base_m=sample.base_m,
            label=sample.name,
            state=sample_state(sample),
            href=f"/samples/{sample.id}",
            spoken=f"Sample {sample.name}, {sample.top_m:.2f} to {sample.base_m:.2f} m, {_spoken(sample)}",
            chosen=chosen is not None and chosen.id == sample.id,
            group="" if narrow else group_of(sample),
            marks=() if narrow else tuple(_mark(test) for test in sample.tests if test.state != "void"),
        )
        for sample in location.samples
    ]
    width, height = (158, 640) if narrow else (300, 420)
    both = ((location.water_struck_m, False), (location.water_m, True))
    waters = tuple(Water(at, stood) for at, stood in both if at is not None and at >= 0)
    return draw_ground(
        f"l{location.id}", location.depth_m, layers_of(location), pins, width=width, height=height, waters=waters
    )


def sample_state(sample: Sample) -> str:
    """Return the least advanced state of the sample's tests under way; planned while there is none."""
    states = [test.state for test in sample.tests if test.state != "void"]
    if any(state == "running" for state in states):
        return "running"
    return min(states, key=STATES.index) if states else "planned"


def _spoken(sample: Sample) -> str:
    return ", ".join(f"{METHODS[t.method].title} {t.state}" for t in sample.tests) or "no test planned"


def _mark(test: Test) -> tuple[str, str, str]:
    method = METHODS[test.method]
    return test.state, method.mark, f"{method.title}: {test.state}"
