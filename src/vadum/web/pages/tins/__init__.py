"""A list of tins with their tares, pasted, seen, and then kept."""
