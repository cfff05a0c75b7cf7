"""Which slip of the hand would explain a number that does not fit."""

from collections.abc import Callable

_FACTORS = (
    (10.0, "the point is one place off"),
    (0.1, "the point is one place off"),
    (1000.0, "typed in another unit"),
    (0.001, "typed in another unit"),
    (100.0, "the point is two places off"),
    (0.01, "the point is two places off"),
    (25.4, "inches typed for millimetres"),
    (1 / 25.4, "inches typed for millimetres"),
    (9.81, "kilograms typed for newtons"),
    (1 / 9.81, "kilograms typed for newtons"),
    (2.0, "half of it was read"),
    (0.5, "it was counted twice"),
)


def slip_words(value: float, fits: Callable[[float], bool]) -> str:
    """Return in words which slip made ``value`` of a number that fits; "" when none of the common ones did.

    Exchanged digits are tried first, then the factors of a misplaced point, another unit, a double or a half.
    """
    text = f"{value:.10g}"
    for i in range(len(text) - 1):
        if text[i].isdigit() and text[i + 1].isdigit() and text[i] != text[i + 1] and text[i + 1] != "0":
            other = float(text[:i] + text[i + 1] + text[i] + text[i + 2 :])
            if fits(other):
                return f"; {other:g} would fit: two digits exchanged?"
    for factor, why in _FACTORS:
        if fits(value * factor):
            return f"; {value * factor:.5g} would fit: {why}?"
    return ""
