"""The preparation calculator, open to every worksheet and to scripts."""

from fastapi import APIRouter, HTTPException

from vadum.soil.bench.preparation import Preparation, prepare
from vadum.soil.contract.field import Entered, reading

router = APIRouter(prefix="/api", tags=["preparation"])


class Mix(Entered):
    """What is to be mixed: a dry mass, or moulds of a volume at a dry density."""

    w_target_percent: float | None = reading("wanted w", "%", low=0, high=300)
    w_now_percent: float | None = reading("w now", "%", low=0, high=300)
    mass_dry_g: float | None = reading("dry mass", "g", low=0, high=1e6)
    moulds: int | None = reading("moulds", "", low=1, high=50)
    volume_cm3: float | None = reading("volume of one mould", "cm³", low=1, high=1e5)
    dry_density_g_cm3: float | None = reading("dry density", "g/cm³", low=0.3, high=3.5)
    spare_percent: float | None = reading("spare", "%", low=0, high=200)
    w_drier_percent: float | None = reading("w of drier soil", "%", low=0, high=300)


@router.post("/preparation", responses={422: {"description": "what is missing or cannot be"}})
def preparation(mix: Mix) -> Preparation:
    """Say what soil and water to weigh out for a water content."""
    given = mix.model_dump(exclude_none=True)
    if "w_target_percent" not in given or "w_now_percent" not in given:
        raise HTTPException(422, "Give the water content wanted and the water content now.")
    try:
        return prepare(**given)
    except ValueError as error:
        raise HTTPException(422, f"{str(error)[0].upper()}{str(error)[1:]}.") from error
