"""A project of random virtual soils, as large as wanted: what reports are measured and compared on."""

from itertools import cycle, islice

import numpy as np
from sqlmodel import Session

from vadum.records.changes import State, difference, kept_readings, state_of
from vadum.records.saving import pin
from vadum.records.standing import live, summarise
from vadum.records.tables import Location, Project, Revision, Sample, Stratum, Test
from vadum.soil.registry import METHODS

_PER_SAMPLE, _PER_LOCATION = 6, 4
_LEANING = 3  # a class leans on limits, which lean on a water content


def random_site(session: Session, count: int, seed: int = 1, methods: tuple[str, ...] = ()) -> Project:
    """Add a project with so many finished tests of all methods in turn, each of a soil of its own; committed.

    Arguments
    ---------
    methods : only these, all of samples and of places when empty
    """
    rng = np.random.default_rng(seed)
    project = Project(name=f"Random ground {seed}", client="nobody")
    session.add(project)
    session.flush()
    chosen = [m for m in METHODS.values() if m.applies_to != "equipment" and (not methods or m.code in methods)]
    made: list[Test] = []
    for number, method in enumerate(islice(cycle(chosen), count)):
        if number % (_PER_SAMPLE * _PER_LOCATION) == 0:
            place = _place(session, project, number // (_PER_SAMPLE * _PER_LOCATION))
        if number % _PER_SAMPLE == 0:
            sample = _sample(session, place, (number // _PER_SAMPLE) % _PER_LOCATION)
        test = Test(method=method.code, state="reduced", revision=1)
        test.sample_id, test.location_id = (sample.id, None) if method.applies_to == "sample" else (None, place.id)
        readings = method.virtual(method.a_soil(rng), method.Settings(), rng)
        test.kept = kept_readings(session, readings.model_dump(mode="json", exclude_none=True))
        pin(test)
        session.add(test)
        session.flush()
        made.append(test)
        session.add(
            Revision(
                test_id=test.id or 0,
                number=1,
                who="technician 1",
                what="readings = as measured",
                save_key=f"made-{seed}-{number}",
                state="reduced",
                changed=difference(State(), state_of(test)),
            )
        )
    for _ in range(_LEANING):
        for test in made:
            session.expire(test, ["sample", "location"])
            test.summary = summarise(live(session, test).reduction)
        session.flush()
    session.commit()
    return project


def _place(session: Session, project: Project, number: int) -> Location:
    place = Location(
        project_id=project.id or 0,
        name=f"R{number + 1}",
        kind="borehole",
        depth_m=6.0,
        latitude_deg=52.1 + 0.0004 * number,
        longitude_deg=-1.2 + 0.0003 * (number % 3),
    )
    session.add(place)
    session.flush()
    session.add(Stratum(location_id=place.id or 0, top_m=0.0, base_m=6.0, description="not logged"))
    return place


def _sample(session: Session, place: Location, number: int) -> Sample:
    top = 0.5 + 1.3 * number
    sample = Sample(location_id=place.id or 0, name=f"S{number + 1}", top_m=top, base_m=top + 0.3, mass_g=50_000)
    session.add(sample)
    session.flush()
    return sample
