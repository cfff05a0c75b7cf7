"""The setting by which a peak counts as passed, and peaks that are none or that nobody read."""

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from vadum.soil.contract.field import setting
from vadum.soil.contract.finding import Finding, warn
from vadum.soil.physics.peak import FALL_PERCENT, load_taken_off, unread_at_peak

# A peak is read to a hundredth or two of shortening or travel (ASTM D2850, D3080: each percent near the end).
LEAST_PERCENT = 2.0

PEAK_UNREAD = warn(
    "peak-unread",
    "{who}Nothing was read from {low:.1f [%]} to {high:.1f %} of {way}, beside the largest reading: the peak may be"
    " there.",
    "Add the readings that are missing; if there are none, test another specimen or say so in the remarks.",
)

LOAD_TAKEN_OFF = warn(
    "load-taken-off",
    "{who}The load fell from {before:.0f [%]} to {after:.0f %} of its largest at once{again}.",
    "Look whether the press was stopped, unloaded or its cell set to zero there; if so, leave out what comes after it.",
)


def taken_off(load: ArrayLike, who: str, cell: Callable[[int], str], *, breaks: bool) -> list[Finding]:
    """Return that a load was taken off; ``breaks`` is whether it may be gone for good, as that of what broke may."""
    found = load_taken_off(load, 0.1 if breaks else 0.0)
    if found is None:
        return []
    shares = 100 * np.asarray(load, dtype=float) / np.max(load)
    again = ", and rose again" if breaks and shares[found:].min() >= 0 else ""
    return [LOAD_TAKEN_OFF.at(cell(found), who=who, before=shares[found - 1], after=shares[found], again=again)]


def unread(percent: ArrayLike, load: ArrayLike, who: str, cell: Callable[[int], str], way: str) -> list[Finding]:
    """Return that nobody read the peak of a load along shortening or travel in percent."""
    behind, along = unread_at_peak(percent, load, LEAST_PERCENT), np.asarray(percent, dtype=float)
    if behind is None:
        return []
    return [PEAK_UNREAD.at(cell(behind), who=who, low=along[behind - 1], high=along[behind], way=way)]


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
