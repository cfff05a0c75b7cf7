"""The demonstration laboratory's tests with water in the ground and with lime."""

from datetime import timedelta

from vadum.demo.builder import Builder
from vadum.demo.soils import FILL_WITH_LIME, MEADOW, SILT_HOLDING, SWALE
from vadum.records.saving import Change, save
from vadum.records.tables import now
from vadum.soil.methods.well_permeameter.readings import Solution

_PLACES = {"TP4": (52.10360, -1.20610), "BH2": (52.10415, -1.20535), "BP1": (52.10300, -1.20705)}


def watering(lab: Builder) -> None:
    """Add three cylinders and a hole at a new place, a ring in the cell, bottles with lime; one set still running."""
    for name, (latitude, longitude) in _PLACES.items():
        place = lab.place(name)
        place.latitude_deg, place.longitude_deg = latitude, longitude
        lab.session.add(place)
    pit = lab.place("TP4")
    meadow = lab.location(pit.project, "W1", "test point", 1.2, ((0.3, "topsoil"), (1.2, "sandy silt")))
    judged = {"required_mm_h": 10.0}
    lab.test(meadow, "falling-head", MEADOW, tools=(), settings=judged)
    lab.test(meadow, "well-permeameter", SWALE, tools=(), settings={"solution": Solution.TWO})
    lab.test(pit.samples[3], "retention", SILT_HOLDING, tools=("Balance 5",))
    lab.test(lab.place("BP1").samples[0], "lime-demand", FILL_WITH_LIME, tools=("Balance 2",))
    falling = lab.test(meadow, "falling-head", MEADOW, tools=(), state="running", rows=14)
    cells = {"cylinders.0.started_at": (now() - timedelta(minutes=46)).isoformat()}
    save(lab.session, falling, Change(base_revision=falling.revision, who="technician 1", cells=cells))
    lab.test(lab.place("BP1").samples[0], "lime-demand", FILL_WITH_LIME, tools=("Balance 2",), state="planned")
