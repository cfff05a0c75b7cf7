"""Hidden soils, and how one did."""
