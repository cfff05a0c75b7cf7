"""Goes not out."""

LEFT_OUT = "the edition has no group for a plate under a falling weight"
