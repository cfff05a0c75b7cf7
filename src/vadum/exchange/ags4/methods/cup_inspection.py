"""Goes not out."""

LEFT_OUT = "an inspection is of the laboratory, not of the ground"
