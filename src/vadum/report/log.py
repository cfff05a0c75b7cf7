"""The log of a location for print: the ground to scale, and what the tests found beside their depth."""

from vadum.drawing.log import Reading, Taken, Track, draw_log
from vadum.records.context import Only, every
from vadum.records.site import UNCHECKED, Site, site_of
from vadum.records.tables import Location, Sample
from vadum.report.document import WIDTH_PX, Part, Picture, lettered
from vadum.report.particulars import for_whom
from vadum.report.sample import test_line
from vadum.report.strata import group_of, layers_of
from vadum.report.summary import unchecked_words
from vadum.soil.contract.figure import end_beyond
from vadum.soil.site import Value

_HEIGHT = 790.0
_MOST_TRACKS = 2
_BESIDE = (
    "water_content",
    "liquid_limit",
    "plastic_limit",
    "plasticity_index",
    "fines_percent",
    "dry_density",
    "su_unconfined",
    "su_triaxial",
    "friction",
    "cohesion",
    "cbr",
)
_LIMITS = ("plastic_limit", "liquid_limit")
_STRENGTHS = ("su_unconfined", "su_triaxial")
_FREE = ("fines_percent", "dry_density", "plasticity_index")


def log_part(location: Location, only: Only = every) -> Part:
    """Return the log of a location with the tests that were made in its ground, those that satisfy ``only``."""
    site = site_of(
        location.project, lambda test: test.ground is not None and test.ground.id == location.id and only(test)
    )
    values = site.shown
    tracks = [track for track in (_water(values), _strength(values, site), *_plain(values)) if track]
    svg = draw_log(
        f"log{location.id}",
        location.depth_m,
        layers_of(location, only),
        [_taken(s, site, only) for s in location.samples],
        tracks[:_MOST_TRACKS],
        width=WIDTH_PX,
        height=_HEIGHT,
    )
    described = (
        f"Ground column of {location.name}, {location.depth_m:g} m deep, with samples and results beside their depth"
    )
    data = {
        "title": f"Log of {location.name}",
        "particulars": [
            ["project", location.project.name],
            *for_whom(location),
            ["location", f"{location.name}, {location.kind}"],
            ["depth", f"{location.depth_m:.2f} m"],
            ["ground level", "not levelled" if location.level_m is None else f"{location.level_m:.2f} m"],
            ["position", _position(location)],
            ["water", _water_met(location)],
        ],
        "tests": [test_line(test) for test in location.tests if test.state != "void" and only(test)],
        "unchecked": unchecked_words(site),
    }
    return Part("log", data, [Picture("Ground", described, lettered(svg))])


def _position(location: Location) -> str:
    if location.easting_m is not None and location.northing_m is not None:
        return f"E {location.easting_m:.2f} m, N {location.northing_m:.2f} m"
    if location.latitude_deg is None or location.longitude_deg is None:
        return "not taken"
    return f"{location.latitude_deg:.6f}°, {location.longitude_deg:.6f}°"


def _water_met(location: Location) -> str:
    said = [
        f"{word} at {depth:.2f} m"
        for word, depth in (("struck", location.water_struck_m), ("stands", location.water_m))
        if depth is not None
    ]
    return ", ".join(said) or "not recorded"


def _taken(sample: Sample, site: Site, only: Only) -> Taken:
    found = {
        v.quantity.key: f"{v.quantity.symbol} {site.written(v)}".replace(" ", "\u00a0")
        for v in site.shown
        if v.sample == sample.name
    }
    words = [group_of(sample, only, UNCHECKED), *(found[key] for key in _BESIDE if key in found)]
    return Taken(sample.name, sample.top_m, sample.base_m, ", ".join(word for word in words if word))


def _water(values: list[Value]) -> Track | None:
    """Return water contents with a bar from plastic to liquid limit of the same sample."""
    limits = {key: {v.sample: v.reported for v in values if v.quantity.key == key} for key in _LIMITS}
    readings = [
        Reading(v.reported, v.top_m, v.base_m or v.top_m, _bar(limits, v.sample))
        for v in values
        if v.quantity.key == "water_content" and v.top_m is not None
    ]
    if not readings:
        return None
    most = max([r.value for r in readings] + [r.bar[1] for r in readings if r.bar])
    return Track("w, %", "bar: PL to LL" if any(r.bar for r in readings) else "", end_beyond(most), readings)


def _bar(limits: dict[str, dict[str, float]], sample: str) -> tuple[float, float] | None:
    plastic, liquid = (limits[key].get(sample) for key in _LIMITS)
    return None if plastic is None or liquid is None else (plastic, liquid)


def _strength(values: list[Value], site: Site) -> Track | None:
    """Return the vane's profile where there is one, else the strengths of samples."""
    units = site.units
    if site.profiles:
        points = [
            Reading(units.value(kpa, "kPa"), depth, depth) for _, profile in site.profiles for kpa, depth in profile
        ]
        most = end_beyond(max(r.value for r in points))
        return Track(f"su vane, {units.unit('kPa')}", "as measured", most, points, joined=True)
    found = [v for v in values if v.quantity.key in _STRENGTHS and v.top_m is not None]
    if not found:
        return None
    readings = [Reading(v.reported, v.top_m or 0.0, v.base_m or 0.0) for v in found]
    symbols = sorted({v.quantity.symbol for v in found})
    return Track(f"{', '.join(symbols)}, {units.unit('kPa')}", "", end_beyond(max(r.value for r in readings)), readings)


def _plain(values: list[Value]) -> list[Track]:
    """Return what fills a free track: fines, density, plasticity."""
    tracks = []
    for key in _FREE:
        found = [v for v in values if v.quantity.key == key and v.top_m is not None]
        if found:
            readings = [Reading(v.reported, v.top_m or 0.0, v.base_m or 0.0) for v in found]
            tracks.append(Track(found[0].quantity.heading, "", end_beyond(max(r.value for r in readings)), readings))
    return tracks
