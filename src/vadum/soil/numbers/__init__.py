"""Numbers as written and as reckoned: units, entry, rounding, fits."""
