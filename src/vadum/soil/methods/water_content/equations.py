"""The least specimen."""

from vadum.soil.physics.published import published

FIELD_SCHOOL_G = 500.0
# Largest particle in mm -> least moist specimen in g, for reporting to 0.1 % and to 1 %. ASTM D2216 (2019), table 1.
LEAST_SPECIMEN_G: tuple[tuple[float, float, float], ...] = (
    (2.0, 20.0, 20.0),
    (4.75, 100.0, 20.0),
    (9.5, 500.0, 50.0),
    (19.0, 2500.0, 250.0),
    (37.5, 10000.0, 1000.0),
    (75.0, 50000.0, 5000.0),
)


@published("least specimen", "table by largest particle, 20 g to 50 kg", "ASTM D2216 table 1")
def least_specimen_g(largest_particle_mm: float, to_tenth: bool) -> float:
    """Return the least moist specimen in g for a largest particle in mm.

    Arguments
    ---------
    largest_particle_mm : mm; above 75 mm the row of 75 mm serves as a lower bound
    to_tenth : report to 0.1 % (method B) instead of 1 % (method A)

    Source: ASTM D2216 (2019), table 1.

    >>> least_specimen_g(4.75, True), least_specimen_g(4.75, False)
    (100.0, 20.0)
    """
    for size, tenth, whole in LEAST_SPECIMEN_G:
        if largest_particle_mm <= size:
            return tenth if to_tenth else whole
    return LEAST_SPECIMEN_G[-1][1 if to_tenth else 2]


@published("least specimen, fast drying", "microwave 100 g, direct heat 200 g", "ASTM D4643 table 1, D4959 table 1")
def least_by_drying_g(drying: str) -> float:
    """Return the least moist specimen in g whatever the grains, by way of drying; 0 for an oven.

    Source: ASTM D4643 (2017), table 1 (microwave, 100 g); ASTM D4959 (2016), table 1 (direct heat, 200 g).

    >>> least_by_drying_g("microwave"), least_by_drying_g("oven")
    (100.0, 0.0)
    """
    return {"microwave": 100.0, "hot-plate": 200.0}.get(drying, 0.0)
