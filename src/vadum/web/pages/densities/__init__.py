"""Field densities of a day against the project's requirement."""
