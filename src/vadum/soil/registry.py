"""The methods Vadum knows. Adding a method adds one line here."""

from typing import Any

from vadum.soil.contract.method import Method
from vadum.soil.methods.cbr_in_situ import CbrInSitu
from vadum.soil.methods.cbr_lab import CbrLab
from vadum.soil.methods.classification import Classification
from vadum.soil.methods.compaction import Compaction
from vadum.soil.methods.cup_inspection import CupInspection
from vadum.soil.methods.direct_shear import DirectShear
from vadum.soil.methods.excavation_density import ExcavationDensity
from vadum.soil.methods.falling_head import FallingHead
from vadum.soil.methods.hydrometer import Hydrometer
from vadum.soil.methods.lime_demand import LimeDemand
from vadum.soil.methods.liquid_limit import LiquidLimit
from vadum.soil.methods.particle_density import ParticleDensity
from vadum.soil.methods.plastic_limit import PlasticLimit
from vadum.soil.methods.plate_incremental import PlateIncremental
from vadum.soil.methods.plate_static import PlateStatic
from vadum.soil.methods.retention import RetentionCell
from vadum.soil.methods.ring_density import RingDensity
from vadum.soil.methods.sieve import Sieve
from vadum.soil.methods.triaxial import Triaxial
from vadum.soil.methods.unconfined import Unconfined
from vadum.soil.methods.vane import Vane
from vadum.soil.methods.water_content import WaterContent
from vadum.soil.methods.well_permeameter import WellPermeameter

_ALL: tuple[Method[Any, Any, Any], ...] = (
    WaterContent(),
    LiquidLimit(),
    PlasticLimit(),
    Sieve(),
    Hydrometer(),
    ParticleDensity(),
    RingDensity(),
    ExcavationDensity(),
    Compaction(),
    CbrLab(),
    CbrInSitu(),
    PlateStatic(),
    PlateIncremental(),
    DirectShear(),
    Unconfined(),
    Triaxial(),
    Vane(),
    FallingHead(),
    WellPermeameter(),
    RetentionCell(),
    LimeDemand(),
    Classification(),
    CupInspection(),
)

METHODS: dict[str, Method[Any, Any, Any]] = {method.code: method for method in _ALL}


class UnknownMethod(KeyError):
    """No method has this code."""

    def __str__(self) -> str:
        return f"no method “{self.args[0]}”; known are {', '.join(METHODS)}"


def method(code: str) -> Method[Any, Any, Any]:
    """Return the method with this code.

    Raises
    ------
    UnknownMethod
        If there is none; the message lists the known codes.
    """
    try:
        return METHODS[code]
    except (KeyError, TypeError):
        raise UnknownMethod(code) from None
