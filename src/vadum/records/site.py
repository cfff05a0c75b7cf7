"""A project's results from the tests' summaries: put in place and depth, for tables, figures and statistics."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from vadum.present import drawing_in, quantity_in, value_in
from vadum.records.positions import placed_tests, tests_in
from vadum.records.standing import FROZEN
from vadum.records.tables import Location, Project, Sample, Test
from vadum.records.units import found_by, units_of_project
from vadum.soil.contract.figure import Figure, Point
from vadum.soil.contract.method import GRADINGS
from vadum.soil.numbers.written import SI, Units
from vadum.soil.physics.grading import Curve, joined
from vadum.soil.registry import method as method_of
from vadum.soil.site import QUANTITIES, Quantity, Spread, Value, depth_words, spread_by_layer, values_from
from vadum.soil.site.figures import consistency_figure, depth_figure, gradings_figure, limits_figure, place_figure
from vadum.soil.site.map import Sited

UNCHECKED = "*"
_DONE = ("reduced", "checked", "issued")
_STRENGTHS = ("su_unconfined", "su_triaxial", "su_vane")


@dataclass(frozen=True)
class ResultLine:
    """One parameter of one test, where it belongs."""

    location: str
    sample: str
    top_m: float | None
    base_m: float | None
    test: int
    method: str
    state: str
    moved: bool
    reportable: bool
    symbol: str
    name: str
    text: str
    reported: float | None
    unit: str

    @property
    def depth(self) -> str:
        return depth_words(self.top_m, self.base_m)


@dataclass
class Site:
    """What the tests of a project say together; ``counted`` of ``tests`` are done and reportable."""

    lines: list[ResultLine] = field(default_factory=list)
    values: list[Value] = field(default_factory=list)
    gradings: list[tuple[str, list[Point]]] = field(default_factory=list)
    profiles: list[tuple[str, list[Point]]] = field(default_factory=list)
    bearing: list[Sited] = field(default_factory=list)
    infiltration: list[Sited] = field(default_factory=list)
    tests: int = 0
    counted: int = 0
    unchecked: set[int] = field(default_factory=set)
    """Tests that count and that nobody has checked yet."""
    units: Units = SI

    def written(self, value: Value) -> str:
        """Return a value as it is written: a result that nobody has checked is marked."""
        text = self.units.marked(value.text)
        return f"{text}{UNCHECKED}" if value.test in self.unchecked else text

    @property
    def quantities(self) -> list[Quantity]:
        """What a designer asks for, in the units of the project."""
        return [quantity_in(quantity, self.units) for quantity in QUANTITIES]

    @property
    def shown(self) -> list[Value]:
        """The values in the units of the project, written with a point."""
        return [value_in(value, self.units) for value in self.values]

    @property
    def spreads(self) -> list[tuple[Quantity, str, Spread]]:
        """The spread of every quantity that has a value, of all its values, under "", and of each layer's."""
        found = []
        shown = self.shown
        for quantity in self.quantities:
            values = [(v.layer, v.reported) for v in shown if v.quantity == quantity]
            if values:
                spreads = spread_by_layer(values, quantity.side, log=quantity.log)
                found += [(quantity, layer, one) for layer, one in spreads]
        return found

    @property
    def figures(self) -> list[Figure]:
        """The characteristic figures that have anything to show."""
        drawn = (
            limits_figure(self.values),
            gradings_figure(self.gradings),
            consistency_figure(self.values),
            depth_figure(
                self.values,
                _STRENGTHS,
                key="site-strength",
                title="Undrained strength with depth",
                label="undrained strength",
                unit="kPa",
                profiles=self.profiles,
            ),
            place_figure(self.bearing, key="site-bearing", title="Bearing by position"),
            place_figure(self.infiltration, key="site-infiltration", title="Infiltration by position"),
        )
        return [drawing_in(figure, self.units) for figure in drawn if figure is not None]


def site_of(
    project: Project, wanted: Callable[[Test], bool] = lambda _: True, tick: Callable[[], None] = lambda: None
) -> Site:
    """Return the results of a project's tests; ``wanted`` chooses among them, ``tick`` is called once for each."""
    site = Site(units=units_of_project(project))
    chosen: list[tuple[Location, Test]] = [(place, test) for place, test in tests_in(project) if wanted(test)]
    for location, test in chosen:
        site.tests += 1
        site.lines += _lines(location, test)
        if counts(test):
            site.counted += 1
            if test.state not in FROZEN:
                site.unchecked.add(test.id or 0)
            site.values += _values(location, test)
            method = method_of(test.method)
            if method.curve_is == "strength profile" and test.summary.get("curve"):
                name = f"{location.name} {method.code.replace('-', ' ')}"
                site.profiles.append((name, [(x, y) for x, y in test.summary["curve"]]))
        tick()
    site.values = _one_grading_each(site.values, {test.id or 0: test.method for _, test in chosen})
    site.gradings = list(_gradings(test for _, test in chosen if counts(test)))
    for one in placed_tests(project):
        if wanted(one.test) and counts(one.test) and one.headline:
            symbol = _symbol(one.test)
            mapped_as = method_of(one.test.method).mapped_as
            if mapped_as == "bearing":
                site.bearing.append(Sited(one.position, f"{symbol} {one.headline}".strip()))
            elif mapped_as == "infiltration":
                site.infiltration.append(Sited(one.position, one.headline))
    return site


def counts(test: Test) -> bool:
    """Return whether a test's results are final enough to count: done, and nothing stops them from being reported."""
    return test.state in _DONE and bool(test.summary.get("reportable"))


def _lines(location: Location, test: Test) -> list[ResultLine]:
    sample, title = test.sample, method_of(test.method).title
    return [
        ResultLine(
            location=location.name,
            sample=sample.name if sample else "",
            top_m=sample.top_m if sample else None,
            base_m=sample.base_m if sample else None,
            test=test.id or 0,
            method=title,
            state=test.state,
            moved=bool(test.moved),
            reportable=bool(test.summary.get("reportable")),
            symbol=p["symbol"],
            name=p.get("name", key),
            text=p["text"],
            reported=p["reported"],
            unit=p["unit"] if p["reported"] is not None else "",
        )
        for key, p in found_by(test).items()
    ]


def _values(location: Location, test: Test) -> list[Value]:
    sample = test.sample
    return values_from(
        method_of(test.method).results,
        test.summary.get("parameters", {}),
        location=location.name,
        sample=sample.name if sample else "",
        top_m=sample.top_m if sample else None,
        base_m=sample.base_m if sample else None,
        test=test.id or 0,
        layer=_layer(location, sample),
    )


def _layer(location: Location, sample: Sample | None) -> str:
    """Return what was logged in the middle of a sample."""
    if sample is None:
        return ""
    middle = (sample.top_m + sample.base_m) / 2
    return next((layer.description for layer in location.strata if layer.top_m <= middle < layer.base_m), "")


def _one_grading_each(values: list[Value], tests: dict[int, str]) -> list[Value]:
    """Leave out what stands in another test of the same sample: a sieve's fractions where a hydrometer joins them."""
    joint = {
        (included, v.quantity.key, v.location, v.sample)
        for v in values
        for included in method_of(tests[v.test]).includes
    }
    return [v for v in values if (tests[v.test], v.quantity.key, v.location, v.sample) not in joint]


def _gradings(tests: Iterable[Test]) -> Iterable[tuple[str, list[Point]]]:
    """Yield the one curve of each sample, sieve and hydrometer joined."""
    limbs: dict[str, dict[str, list[Point]]] = {}
    for test in tests:
        limb = method_of(test.method).curve_is
        if limb in GRADINGS and test.sample:
            limbs.setdefault(test.place, {})[limb] = test.summary.get("curve", [])
    for name, found in limbs.items():
        coarse, fine = (
            Curve.through([d for d, _ in found.get(m, [])], [p for _, p in found.get(m, [])]) for m in GRADINGS
        )
        yield name, joined(coarse, fine).points


def _symbol(test: Test) -> str:
    keys = (k for k in method_of(test.method).headline if k in test.summary.get("parameters", {}))
    key = next(keys, None)
    return str(test.summary["parameters"][key]["symbol"]) if key else ""
