"""The demonstration laboratory: a made-up scenario with numbers from the virtual soils."""
