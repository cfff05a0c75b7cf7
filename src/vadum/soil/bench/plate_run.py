"""What run mode at a plate needs of a method's plan; which row, stage and pressure are next is found in the page."""

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel

from vadum.soil.physics.plate import jack_force_kn, pump_pressure_bar


class Applied(BaseModel):
    """How a pressure shows on the jack: so much per kPa, in a unit, to so many decimals."""

    what: str
    per_kpa: float
    unit: str
    decimals: int


class PlateRun(BaseModel):
    """The plan of a run at the plate.

    ``dues`` are minutes of a stage at which it is read, going on every ``then_every`` minutes where it is not 0;
    ``hold_min`` is the least hold before a reading. ``keeps`` are the columns that the clock fills, by their unit.
    ``step_kpa`` is the next increment; where it ``doubles`` each pressure is twice the one before. ``unloading`` are
    shares of the largest pressure, after which all loading stages but the last follow again. ``planned`` is the plan by
    the settings where no stage was read yet and it differs. ``ends`` are the reasons for which loading in increments
    ends, by their code, ``back`` the shares of the largest pressure at which the rebound is read then.
    """

    table: str
    figure: str
    gauges: list[tuple[str, str]]
    keeps: dict[str, Literal["minutes", "seconds"]]
    started_at: str
    dues: list[float]
    then_every: float = 0
    hold_min: float = 0
    applied: list[Applied]
    step_kpa: float | None = None
    doubles: bool = False
    planned: list[float] = []
    unloading: list[float] = []
    ends: dict[str, str] = {}
    back: list[float] = []
    preload_kpa: float | None = None
    preload_s: float = 0
    decision: str = ""
    may_go: bool = False


def applied(area_m2: float, piston_cm2: float | None = None) -> list[Applied]:
    """Return how a pressure below a plate shows: force of the jack, oil pressure where the piston is known."""
    force = jack_force_kn(1.0, area_m2)
    jack = Applied(what="jack", per_kpa=force, unit="kN", decimals=1)
    if not piston_cm2:
        return [jack]
    return [jack, Applied(what="pump", per_kpa=pump_pressure_bar(force, piston_cm2), unit="bar", decimals=0)]


def plate_view(run: PlateRun) -> dict[str, Any]:
    return {"plate": run.model_dump(mode="json")}


def iso(at: datetime | None) -> str:
    return at.isoformat() if at else ""
