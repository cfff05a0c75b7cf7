"""Goes not out."""

LEFT_OUT = "the format has no group for water retention"
