"""Words for undrained strength, consistency and sensitivity."""

from bisect import bisect_right

# Upper bounds in kPa. ISO 14688-2 (2017), table 5.
_STRENGTH = (
    (10.0, "extremely low"),
    (20.0, "very low"),
    (40.0, "low"),
    (75.0, "medium"),
    (150.0, "high"),
    (300.0, "very high"),
)
# Upper bounds of undisturbed over remoulded strength. Skempton and Northey (1952), Géotechnique 3, 30-53.
_SENSITIVITY = ((2.0, "low"), (4.0, "medium"), (8.0, "sensitive"), (16.0, "extra sensitive"))
# Unconfined compressive strength in kPa. Terzaghi and Peck (1967), table 7.2.
_CONSISTENCY = ((25.0, "very soft"), (50.0, "soft"), (100.0, "medium"), (200.0, "stiff"), (400.0, "very stiff"))


def strength_class(undrained_kpa: float) -> str:
    """Return the class of an undrained shear strength in kPa."""
    return _word(_STRENGTH, undrained_kpa, "extremely high")


def sensitivity_class(sensitivity: float) -> str:
    """Return the class of a sensitivity, undisturbed over remoulded strength."""
    return _word(_SENSITIVITY, sensitivity, "quick")


def consistency(compressive_kpa: float) -> str:
    """Return the consistency by an unconfined compressive strength in kPa."""
    return _word(_CONSISTENCY, compressive_kpa, "hard")


def _word(table: tuple[tuple[float, str], ...], value: float, above: str) -> str:
    place = bisect_right([bound for bound, _ in table], value)
    return table[place][1] if place < len(table) else above
