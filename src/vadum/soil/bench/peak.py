"""The setting by which a peak counts as passed."""

from typing import Any

from vadum.soil.contract.field import setting
from vadum.soil.physics.peak import FALL_PERCENT


def fall_setting() -> Any:
    """Declare the fall that proves a peak."""
    return setting(
        FALL_PERCENT,
        "peak passed by",
        "A peak counts as passed when the stress has fallen by this share over at least three readings.",
        unit="%",
        low=0.5,
        high=20,
    )
