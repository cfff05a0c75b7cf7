"""The soil ledger of a sample: received, what each test takes, what is spent, what is left."""

from dataclasses import dataclass, field

from vadum.records.tables import Sample, Test
from vadum.soil.contract.method import SoilNeed
from vadum.soil.registry import method as method_of


@dataclass(frozen=True)
class Entry:
    """One test's soil. ``back`` is soil that returns to the bag once the test is done."""

    test: Test
    need: SoilNeed
    back: bool


@dataclass(frozen=True)
class Ledger:
    """Masses in g as received. ``received`` is None when nobody weighed the sample."""

    received_g: float | None
    entries: list[Entry] = field(default_factory=list)

    @property
    def spent_g(self) -> float:
        return sum(e.need.mass_g for e in self.entries if not e.back and e.test.state != "planned")

    @property
    def reserved_g(self) -> float:
        return sum(e.need.mass_g for e in self.entries if not e.back and e.test.state == "planned")

    @property
    def left_g(self) -> float | None:
        return None if self.received_g is None else self.received_g - self.spent_g - self.reserved_g

    def short_for(self, need: SoilNeed | None) -> float:
        """Return by how many g the soil left falls short of a test's need; 0 when it is enough or nobody knows."""
        if need is None or self.left_g is None:
            return 0.0
        return max(0.0, need.mass_g - self.left_g)


def ledger_of(sample: Sample) -> Ledger:
    """Return the ledger of a sample. Soil of a finished test that did not spend it counts as back in the bag."""
    entries = []
    for test in sample.tests:
        need = need_of(sample, test.method, test.settings)
        if need is not None and test.state != "void":
            entries.append(Entry(test, need, back=not need.spent and test.state not in ("planned", "running")))
    return Ledger(sample.mass_g, entries)


def need_of(sample: Sample, code: str, settings: dict[str, object] | None = None) -> SoilNeed | None:
    """Return what a test of this method would take from the sample."""
    method = method_of(code)
    need: SoilNeed | None = method.soil_needed(
        method.Settings.model_validate(settings or {}), sample.largest_particle_mm
    )
    return need
