"""Tests as earlier releases kept them, as plain data: what has become a method of its own since.

A double ring and a percolation hole were arrangements of the well permeameter, up to release 0.5.
"""

import re
from typing import Any

Plain = dict[str, Any]
_WELL = "well-permeameter"
_BECAME = {
    "double-ring": "double-ring",
    "double ring": "double-ring",
    "percolation": "percolation",
    "percolation hole": "percolation",
}
_KEPT_SETTINGS = ("within_percent", "steady_rates", "safety_factor", "required_mm_h")
_SINGLES: dict[str, dict[str, str]] = {
    "double-ring": {
        "ring_cm2": "ring_cm2",
        "temperature_c": "temperature_c",
        "utilities": "services_located",
        "water_table_m": "water_table_m",
        "latitude_deg": "latitude_deg",
        "longitude_deg": "longitude_deg",
        "head_1_started_at": "started_at",
    },
    "percolation": {
        "hole_diameter_mm": "hole_diameter_mm",
        "hole_depth_mm": "hole_depth_mm",
        "temperature_c": "fills.0.temperature_c",
        "utilities": "services_located",
        "water_table_m": "water_table_m",
        "latitude_deg": "latitude_deg",
        "longitude_deg": "longitude_deg",
        "head_1_started_at": "fills.0.started_at",
    },
}
_COLUMNS: dict[str, dict[str, str]] = {
    "double-ring": {
        "levels.elapsed_min": "readings.elapsed_min",
        "levels.level_mm": "readings.inner_mm",
        "levels.refilled": "readings.refilled",
        "levels.left_out": "readings.left_out",
    },
    "percolation": {
        "levels.elapsed_min": "levels.elapsed_min",
        "levels.level_mm": "levels.level_mm",
        "levels.left_out": "levels.left_out",
    },
}


def became(method: str, settings: Plain) -> str:
    """Return the code of the method that a test is of now."""
    return _BECAME.get(settings.get("arrangement", ""), method) if method == _WELL else method


def renewed(method: str, now: str, state: Plain) -> Plain:
    """Return a test's state, or a part of it, in the words of the method it is of now.

    Arguments
    ---------
    method, now : its method as kept, and by :func:`became`
    state : readings, settings, ``unread``, ``origins``, ``bindings``, ``setting_origins``, as many as there are
    """
    if method != _WELL:
        return state
    if now == _WELL:
        own = {name: {k: v for k, v in state[name].items() if k != "arrangement"} for name in _settings(state)}
        readings = {k: v for k, v in state.get("readings", {}).items() if k != "ring_cm2"}
        return state | own | ({"readings": readings} if "readings" in state else {})
    changed: Plain = {}
    for name in _settings(state):
        changed[name] = {k: v for k, v in state[name].items() if k in _KEPT_SETTINGS}
    for name in ("unread", "origins", "bindings"):
        if name in state:
            moved = ((_path(now, path), value) for path, value in state[name].items())
            changed[name] = {path: value for path, value in moved if path}
    if "readings" in state:
        changed["readings"] = _ring(state["readings"]) if now == "double-ring" else _hole(state["readings"])
    return state | changed


def _settings(state: Plain) -> list[str]:
    return [name for name in ("settings", "setting_origins") if name in state]


def _path(now: str, path: str) -> str:
    """Return where a cell or a column stands now; "" where it has no place."""
    if path in _SINGLES[now]:
        return _SINGLES[now][path]
    row = re.search(r"\.\d+\.", path)
    column = _COLUMNS[now].get(path if row is None else path.replace(row[0], ".", 1), "")
    return column if row is None or not column else column.replace(".", row[0], 1)


def _ring(kept: Plain) -> Plain:
    """Return the readings of a single ring: the tube that was open is the inner one's."""
    readings = {new: kept[old] for old, new in _SINGLES["double-ring"].items() if old in kept}
    section = kept.get("combined_cm2" if kept.get("reservoir") == "combined" else "inner_cm2")
    if section is not None:
        readings["inner_tube_cm2"] = section
    if "levels" in kept:
        columns = {old.partition(".")[2]: new.partition(".")[2] for old, new in _COLUMNS["double-ring"].items()}
        readings["readings"] = [{columns[k]: v for k, v in row.items() if k in columns} for row in kept["levels"]]
    return readings


def _hole(kept: Plain) -> Plain:
    """Return the readings of a percolation hole: every filling up begins a fill of its own."""
    readings: Plain = {}
    first: Plain = {}
    for old, new in _SINGLES["percolation"].items():
        if old in kept:
            (first if "." in new else readings)[new.rpartition(".")[2]] = kept[old]
    if "hole_radius_mm" in kept and "hole_diameter_mm" not in kept:
        readings["hole_diameter_mm"] = 2 * kept["hole_radius_mm"]
    if first:
        readings["fills"] = [first]
    if "levels" in kept:
        number, rows = 1, []
        for row in kept["levels"]:
            begins = row.get("refilled") == "yes"
            number += begins
            own = {k: v for k, v in row.items() if k in ("elapsed_min", "level_mm", "left_out")}
            rows.append(({"fill": number} if begins else {}) | own)
        readings["levels"] = rows
    return readings
