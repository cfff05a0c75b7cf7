"""The temperature of water that a volume is found with."""

from typing import Any

from vadum.soil.contract.field import Shown, reading


def water_temperature(*, absent: str = "20 °C assumed", beside: str = "", shown: Shown | None = None) -> Any:
    """Declare the temperature of the water poured into a hole, or in which a lump hangs."""
    return reading(
        "water at",
        "°C",
        low=0,
        high=45,
        resolution=0.1,
        shown=shown,
        also=("temperature", "temp"),
        absent=absent,
        beside=beside,
        usual=(2, 35),
    )
