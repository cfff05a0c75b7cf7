"""A finished investigation of the demonstration laboratory: one clay in three holes, everything checked, ready for a
report."""

from dataclasses import replace

from vadum.demo.builder import Builder
from vadum.demo.soils import FAT_CLAY, STIFF_CLAY
from vadum.records.tables import Project

# What the clay differs by from hole to hole: liquid limit and water content, percent, and strength, kPa.
_HOLES = (("FB1", 0.0, 52.10810, -1.21100), ("FB2", 2.5, 52.10835, -1.21042), ("FB3", -3.5, 52.10861, -1.20985))
_DEPTHS = (("U1", 1.0, 46.0, -1.5), ("U3", 3.0, 61.0, 1.5))


def flood_bank(lab: Builder) -> None:
    """Add three holes along a flood bank, each with limits, water content and strength at two depths."""
    project = lab.add(
        Project(name="Osier Flats flood bank", client="water board", note="Raising of the bank, station 0 to 120")
    )
    for hole, (name, off, latitude, longitude) in enumerate(_HOLES):
        place = lab.location(project, name, "borehole", 5.0, ((0.4, "turf and fill"), (5.0, "grey clay, silty")))
        place.latitude_deg, place.longitude_deg = latitude, longitude
        lab.add(place)
        for label, depth, strength, water in _DEPTHS:
            top = depth + 0.25 * hole
            sample = lab.sample(place, label, "tube", top, top + 0.45, 2400, "grey clay, silty")
            clay = replace(
                FAT_CLAY,
                liquid_limit=FAT_CLAY.liquid_limit - 12 + off,
                plastic_limit=FAT_CLAY.plastic_limit - 3 + 0.4 * off,
                natural_water_content=29.0 + water + 0.4 * off,
            )
            lab.test(sample, "water-content", clay, state="checked")
            lab.test(sample, "liquid-limit", clay, state="checked")
            lab.test(sample, "plastic-limit", clay, state="checked")
            cylinder = replace(
                STIFF_CLAY, compressive_kpa=2 * strength - 4 * off + 3 * hole, water_content=29.0 + water
            )
            lab.test(sample, "unconfined", cylinder, state="checked")
