"""What a sheet says of its soil: whose it is, where it is from, how it came to the bench, and when it was tested."""

from sqlmodel import Session

from vadum.records.calibrations import day_of
from vadum.records.custody import custody_lines
from vadum.records.states import recorded_last
from vadum.records.tables import Location, Sample, Test
from vadum.records.units import units_of_project
from vadum.records.zone import local

AS_RECEIVED = "The results are of this sample as it was received, and of what was tested of it."


def particulars(session: Session, test: Test) -> list[list[str]]:
    """Return whose soil it is, where it is from, and when it was tested by the test's own times."""
    custody = custody_lines(test.sample) if test.sample else []
    return [*_of_soil(test)[:1], *for_whom(test.ground), *_of_soil(test)[1:], *custody, *_tested(session, test)]


def for_whom(place: Location | None) -> list[list[str]]:
    """Return whose order it is, as far as that was said."""
    if place is None:
        return []
    project = place.project
    lines = [
        ["client", project.client],
        ["order", project.order_number],
        ["asked by", project.standard],
        ["report to", project.report_to],
    ]
    return [line for line in lines if line[1]]


def _tested(session: Session, test: Test) -> list[list[str]]:
    """Return the days from the first reading to the last, not that of the last edit of anything."""
    last = recorded_last(session, test)
    if last is None:
        return []
    days = dict.fromkeys((day_of(session, test).isoformat(), local(session, last).date().isoformat()))
    return [["tested", " to ".join(days)]]


def _of_soil(test: Test) -> list[list[str]]:
    sample = test.sample
    if test.location is not None:
        place = test.location
        return [["project", place.project.name], ["location", f"{place.name}, {place.kind}"]]
    if sample is None:
        return [
            (
                ["practice", "not a record"]
                if test.practice
                else ["equipment", test.equipment.name if test.equipment else ""]
            )
        ]
    return [
        ["project", sample.location.project.name],
        ["location", f"{sample.location.name}, {sample.location.kind}"],
        ["sample", f"{sample.name}, {sample.kind}"],
        ["depth", depth_of(sample)],
        ["description", sample.description or "none"],
    ]


def depth_of(sample: Sample) -> str:
    """Return from where to where a sample is from, in the units of its project."""
    return units_of_project(sample.location.project).words(f"{sample.top_m:.2f}–{sample.base_m:.2f} m")
