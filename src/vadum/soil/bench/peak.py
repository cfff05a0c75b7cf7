"""The setting by which a peak counts as passed, and a peak that nobody read."""

from typing import Any

from vadum.soil.contract.field import setting
from vadum.soil.contract.finding import warn
from vadum.soil.physics.peak import FALL_PERCENT

# A peak is read to a hundredth or two of shortening or travel (ASTM D2850, D3080: each percent near the end).
LEAST_PERCENT = 2.0

PEAK_UNREAD = warn(
    "peak-unread",
    "{who}Nothing was read from {low:.1f [%]} to {high:.1f %} of {way}, beside the largest reading: the peak may be"
    " there.",
    "Add the readings that are missing; if there are none, test another specimen or say so in the remarks.",
)


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
