"""Goes not out."""

LEFT_OUT = "the edition keeps places of one gauge as locations of their own, and here they are rows of one"
