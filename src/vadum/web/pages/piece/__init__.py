"""One piece of equipment with its calibrations."""
