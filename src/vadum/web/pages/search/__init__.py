"""Finding by words."""
