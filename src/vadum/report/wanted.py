"""What a person wants in a report: scope, order, what to include."""

from typing import Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, field_validator
from sqlmodel import Session

from vadum.records.positions import tests_with_readings
from vadum.records.site import counts
from vadum.records.standing import FROZEN
from vadum.records.states import moved_now
from vadum.records.tables import Location, Project, Sample, Test
from vadum.soil.registry import METHODS

Chapter = Literal["summary", "logs", "samples", "tests"]
MOST_SHEETS = 1000  # set in stretches, so that a small machine has memory for them
CHAPTERS: tuple[Chapter, ...] = get_args(Chapter)
WORDS: dict[str, str] = {
    "summary": "summary of the project",
    "logs": "log of each location",
    "samples": "sheet of each sample",
    "tests": "sheet of each test",
}


class Wanted(BaseModel):
    """A report as chosen. Empty ``locations``, ``samples`` and ``methods`` mean all; chapters stand in the order
    given."""

    model_config = ConfigDict(extra="forbid")

    title: str = Field(min_length=1, max_length=120)
    chapters: list[Chapter] = Field(min_length=1)
    locations: list[int] = []
    samples: list[int] = []
    methods: list[str] = []
    order: Literal["place", "method"] = "place"
    final: bool = True
    every_parameter: bool = True
    derivation: bool = False
    uncertainty: bool = False
    records: bool = False
    issue: bool = False

    @field_validator("chapters")
    @classmethod
    def _once(cls, chapters: list[Chapter]) -> list[Chapter]:
        return list(dict.fromkeys(chapters))

    @field_validator("methods")
    @classmethod
    def _known(cls, methods: list[str]) -> list[str]:
        if unknown := [code for code in methods if code not in METHODS]:
            raise ValueError(f"there is no method {unknown[0]}")
        return methods

    def takes(self, test: Test) -> bool:
        """Return whether a test belongs in the report."""
        ground = test.ground
        return (
            test.state not in ("void", "planned")
            and (not self.locations or (ground is not None and ground.id in self.locations))
            and (not self.samples or test.sample_id in self.samples)
            and (not self.methods or test.method in self.methods)
            and (not self.final or counts(test))
        )

    def shows(self, test: Test) -> bool:
        """Return whether a test's results may stand in any chapter: an issued report shows only what was checked."""
        return self.takes(test) and (not self.issue or test.state in FROZEN)

    def tests(self, project: Project) -> list[Test]:
        """Return the tests of the report in its order."""
        found = [test for _, test in tests_with_readings(project) if self.takes(test)]
        if self.order == "method":
            codes = list(METHODS)
            found.sort(key=lambda test: codes.index(test.method))
        return found

    def places(self, project: Project) -> list[Location]:
        """Return the locations of the report: those chosen, of chosen samples only theirs."""
        return [
            place
            for place in project.locations
            if (not self.locations or place.id in self.locations)
            and (not self.samples or any(sample.id in self.samples for sample in place.samples))
        ]

    def taken(self, project: Project) -> list[Sample]:
        """Return the samples of the report."""
        every = [sample for place in self.places(project) for sample in place.samples]
        return [sample for sample in every if not self.samples or sample.id in self.samples]

    def scope(self, project: Project) -> str:
        """Return in words which tests the report is of."""
        places = ", ".join(place.name for place in self.places(project)) if self.locations else "all locations"
        if self.samples:
            places += ", of them " + ", ".join(f"{s.location.name} {s.name}" for s in self.taken(project))
        methods = ", ".join(METHODS[code].title.lower() for code in self.methods) if self.methods else "all tests"
        return f"{places}; {methods}{', done and reportable only' if self.final else ', unfinished ones too'}"


def not_ready(session: Session, tests: list[Test]) -> list[Test]:
    """Return the tests that keep a report from being issued: not checked by a second person, not reportable, or
    standing on ground that has moved since."""
    return [t for t in tests if t.state not in FROZEN or not t.summary.get("reportable") or moved_now(session, t)]
