"""The stand-ins that ship with the application, and what stands before them when nobody says otherwise."""

from datetime import date

import numpy as np

from vadum.instruments.port import Identity, Quantity
from vadum.instruments.standin import Signal, StandIn
from vadum.soil.registry import METHODS

_DAY_MIN = 1440.0


def _identity(name: str, kind: str, serial: str, *quantities: tuple[str, str, float, float, float]) -> Identity:
    measured = [Quantity(name=n, unit=u, resolution=r, low=low, high=high) for n, u, r, low, high in quantities]
    return Identity(
        name=name,
        kind=kind,
        serial=serial,
        quantities=measured,
        calibrated=date(2026, 3, 2),
        certificate=f"C-{serial[-3:]}",
        stand_in=True,
    )


IDENTITIES: tuple[Identity, ...] = (
    _identity("fine balance", "balance", "SB-0042", ("mass", "g", 0.01, -10, 620)),
    _identity("large balance", "balance", "SB-0107", ("mass", "g", 0.1, -100, 32000)),
    _identity("dial gauge A", "dial gauge", "SD-0011", ("travel", "mm", 0.01, -5, 50)),
    _identity("dial gauge B", "dial gauge", "SD-0012", ("travel", "mm", 0.01, -5, 50)),
    _identity("dial gauge C", "dial gauge", "SD-0013", ("travel", "mm", 0.01, -5, 50)),
    _identity("dial gauge D", "dial gauge", "SD-0014", ("travel", "mm", 0.01, -5, 50)),
    _identity("load ring", "load ring", "SR-0020", ("deflection", "div", 0.5, -20, 2000)),
    _identity(
        "load frame",
        "load cell with displacement",
        "SL-0050",
        ("force", "kN", 0.001, -0.5, 60),
        ("travel", "mm", 0.01, -5, 50),
    ),
    _identity("level logger", "water-level logger", "SW-0300", ("level", "mm", 1.0, 0, 2000)),
    _identity(
        "pH meter",
        "pH meter with thermometer",
        "SP-0007",
        ("ph", "pH", 0.01, 0, 14),
        ("temperature", "°C", 0.1, -5, 60),
    ),
    _identity(
        "hydrometer eye",
        "hydrometer eye",
        "SH-0152",
        ("hydrometer", "g/L", 0.1, -5, 65),
        ("temperature", "°C", 0.1, -5, 60),
    ),
    _identity(
        "position receiver",
        "position receiver",
        "SX-0001",
        ("latitude", "°", 0.000001, -90, 90),
        ("longitude", "°", 0.000001, -180, 180),
        ("easting", "m", 0.01, -1e6, 1e7),
        ("northing", "m", 0.01, -1e7, 1e7),
    ),
)


def stand_ins(now: float, *, speed: float = 1.0, seed: int = 1) -> dict[str, StandIn]:
    """Return every stand-in by name, each with its own signal begun now on the virtual soil of this seed."""
    rng = np.random.default_rng(seed)
    made = {}
    for identity in IDENTITIES:
        noise = 0.0 if identity.kind == "load ring" else 0.3
        one = StandIn(identity, speed=speed, rng=np.random.default_rng(rng.integers(2**32)), noise_steps=noise)
        for quantity, signal in _signals(identity.kind, rng).items():
            one.present(quantity, signal, now)
        made[identity.name] = one
    return made


def _signals(kind: str, rng: np.random.Generator) -> dict[str, Signal]:
    """Return what an instrument of a kind sees of the virtual soil over the next day."""
    minutes = np.concatenate([[0.0], np.geomspace(0.25, _DAY_MIN, 60)])

    def over(values: np.ndarray) -> Signal:
        return Signal(tuple(map(float, minutes)), tuple(map(float, values)))

    if kind == "balance":
        return {"mass": Signal((0.0,), (float(rng.uniform(20, 90)),))}
    if kind == "dial gauge":
        return {"travel": over(3.0 * (1 - np.exp(-np.sqrt(minutes) / 4)))}
    if kind == "load ring":
        return {"deflection": over(180 * (1 - np.exp(-minutes / 3)))}
    if kind == "load cell with displacement":
        travel = np.minimum(minutes, 7.5)
        return {"force": over(travel / (0.35 + 0.08 * travel)), "travel": over(travel)}
    if kind == "water-level logger":
        return {"level": over(350 * np.exp(-minutes / 40))}
    if kind == "pH meter with thermometer":
        return {"ph": Signal((0.0,), (12.38,)), "temperature": Signal((0.0,), (24.6,))}
    if kind == "hydrometer eye":
        return _suspension(rng)
    return {
        "latitude": Signal((0.0,), (52.1043,)),
        "longitude": Signal((0.0,), (-1.2048,)),
        "easting": Signal((0.0,), (412_300.0,)),
        "northing": Signal((0.0,), (5_301_870.0,)),
    }


def _suspension(rng: np.random.Generator) -> dict[str, Signal]:
    method = METHODS["hydrometer"]
    rows = method.virtual(method.a_soil(rng), method.Settings(), rng).sedimentation
    minutes = tuple(float(row.due_min) for row in rows)
    return {
        "hydrometer": Signal(minutes, tuple(float(row.hydrometer) for row in rows)),
        "temperature": Signal(minutes, tuple(float(row.temperature_c) for row in rows)),
    }
