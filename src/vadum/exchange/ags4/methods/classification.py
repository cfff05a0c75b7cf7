"""Goes not out."""

LEFT_OUT = "a class is what its limits and grading say, and they go out"
