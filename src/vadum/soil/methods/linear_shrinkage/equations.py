"""Shrinkage of a bar of soil that dries in its mould."""

from vadum.soil.physics.published import published


@published("linear shrinkage", "LS = 100 (1 − LD / L0)", "BS 1377-2 clause 6.5")
def linear_shrinkage_percent(length_mould_mm: float, length_dry_mm: float) -> float:
    """Return LS = 100 (1 - LD / L0), percent; lengths in mm.

    Source: BS 1377-2 (1990), clause 6.5.

    >>> round(linear_shrinkage_percent(140.0, 119.0), 2)
    15.0
    """
    return 100.0 * (1.0 - length_dry_mm / length_mould_mm)


@published("plasticity index, a guide", "PI = 2.13 LS", "BS 1377-2 clause 6.5")
def plasticity_index_estimate(linear_shrinkage: float) -> float:
    """Return PI = 2.13 LS, percent, a guide where the plastic limit cannot be rolled. Source: BS 1377-2 (1990), 6.5.

    >>> round(plasticity_index_estimate(10.0), 1)
    21.3
    """
    return 2.13 * linear_shrinkage
