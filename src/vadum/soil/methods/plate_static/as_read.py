"""What stands in the rows, as pressure below the plate and settlement of its middle."""

from vadum.soil.bench.plate_load import pressure_of
from vadum.soil.methods.plate_static.readings import PlateStaticReadings, PlateStaticSettings, Runs, Stage
from vadum.soil.physics.plate import plate_area_m2


def in_pressure_and_settlement(readings: PlateStaticReadings, settings: PlateStaticSettings) -> PlateStaticReadings:
    """Return the readings with a typed force or oil pressure as pressure, and the gauges as one that began at nothing
    and counts up."""
    area, piston = plate_area_m2(settings.size_mm), readings.piston_cm2
    stages = [
        stage.model_copy(
            update={
                "pressure_kpa": pressure_of(stage, settings.load_as, area, piston),
                "gauge_mm": settlement(stage, readings, settings),
            }
        )
        for stage in readings.stages
    ]
    return readings.model_copy(update={"stages": stages})


def gauges_of(stage: Stage, settings: PlateStaticSettings) -> list[float | None]:
    """Return what the gauges in use say."""
    every = [stage.gauge_mm, stage.gauge_2_mm, stage.gauge_3_mm]
    return every[: {"one": 1, "two": 2, "three": 3}[settings.gauges.value]]


def settlement(stage: Stage, readings: PlateStaticReadings, settings: PlateStaticSettings) -> float | None:
    """Return the mean way of the gauges since they began, None until all are read."""
    read = [value for value in gauges_of(stage, settings) if value is not None]
    if len(read) < len(gauges_of(stage, settings)):
        return None
    way = sum(read) / len(read) - (readings.gauge_start_mm or 0.0)
    return round(-way if settings.gauge_runs == Runs.DOWN else way, 6)
