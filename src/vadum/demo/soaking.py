"""The demonstration laboratory's rings, holes and pits that are filled, and what a project asks of its ground."""

from vadum.demo.builder import Builder
from vadum.demo.soils import DRAIN_SAND, RIVER_SILT, SWALES
from vadum.records.infiltration import InfiltrationRule
from vadum.soil.site.infiltration import By, Kind

_LAYERS = ((0.3, "topsoil"), (1.6, "sandy silt"))


def soaking(lab: Builder) -> None:
    """Add four places along a planned swale, a borehole beside it, and a sand for its drain in the laboratory."""
    pit = lab.place("TP4")
    project = pit.project
    asked = {"required_mm_h": 8.0}
    for name, method, ground in zip(
        ("W2", "W3", "W4", "W5"), ("double-ring", "percolation", "soakage-pit", "double-ring"), SWALES, strict=True
    ):
        kind = "test pit" if method == "soakage-pit" else "test point"
        lab.test(lab.location(project, name, kind, 1.6, _LAYERS), method, ground, tools=(), settings=asked)
    lab.test(
        lab.location(project, "BH9", "borehole", 8.0, ((8.0, "silt"),)), "borehole-permeability", RIVER_SILT, tools=()
    )
    lab.test(pit.samples[3], "permeability-laboratory", DRAIN_SAND, tools=("Balance 5",))
    rule = InfiltrationRule(kind=Kind.INFILTRATION, required_mm_h=8.0, by=By.BAND)
    project.infiltration_rule = rule.model_dump(mode="json")
    lab.add(project)
