"""Words for undrained strength and sensitivity: one table a school, for every test that gives a strength."""

from bisect import bisect_right

from vadum.soil.choice import Choice


class StrengthWords(Choice):
    """Whose words say how strong a clay is."""

    ISO = "iso-14688-2", "ISO 14688-2, by cu"
    TERZAGHI = "terzaghi-peck", "Terzaghi and Peck, by qu"


class SensitivityWords(Choice):
    """Whose words say how much of its strength a clay loses."""

    SKEMPTON = "skempton-northey", "Skempton and Northey (1952)"
    SWEDISH = "swedish", "Swedish practice"


Table = tuple[tuple[tuple[float, str], ...], str]
# Upper bounds of the undrained strength in kPa. ISO 14688-2 (2017), table 5; Terzaghi and Peck (1967), table 7.2, whose
# bounds are of qu, twice the strength.
_STRENGTH: dict[str, Table] = {
    StrengthWords.ISO: (
        (
            (10.0, "extremely low"),
            (20.0, "very low"),
            (40.0, "low"),
            (75.0, "medium"),
            (150.0, "high"),
            (300.0, "very high"),
        ),
        "extremely high",
    ),
    StrengthWords.TERZAGHI: (
        ((12.5, "very soft"), (25.0, "soft"), (50.0, "medium"), (100.0, "stiff"), (200.0, "very stiff")),
        "hard",
    ),
}
# Upper bounds of undisturbed over remoulded strength. Skempton and Northey (1952), Géotechnique 3, 30-53; the Swedish
# bounds as in Karlsson and Hansbo (1989).
_SENSITIVITY: dict[str, Table] = {
    SensitivityWords.SKEMPTON: (
        ((2.0, "low"), (4.0, "medium"), (8.0, "sensitive"), (16.0, "extra sensitive")),
        "quick",
    ),
    SensitivityWords.SWEDISH: (((8.0, "low"), (30.0, "medium"), (50.0, "high")), "quick"),
}


def strength_class(undrained_kpa: float, words: str = StrengthWords.ISO) -> str:
    """Return the class of an undrained shear strength in kPa.

    >>> strength_class(30.0), strength_class(30.0, "terzaghi-peck")
    ('low', 'medium')
    """
    return _word(_STRENGTH[words], undrained_kpa)


def sensitivity_class(sensitivity: float, words: str = SensitivityWords.SKEMPTON) -> str:
    """Return the class of a sensitivity, undisturbed over remoulded strength.

    >>> sensitivity_class(10.0), sensitivity_class(10.0, "swedish")
    ('extra sensitive', 'medium')
    """
    return _word(_SENSITIVITY[words], sensitivity)


def _word(table: Table, value: float) -> str:
    bounds, above = table
    place = bisect_right([bound for bound, _ in bounds], value)
    return bounds[place][1] if place < len(bounds) else above
