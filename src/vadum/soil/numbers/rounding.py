"""Rounding rules for reported values."""

from decimal import ROUND_HALF_EVEN, Decimal

from pydantic import BaseModel, ConfigDict

# Ten significant figures clear the noise of binary arithmetic before a tie is judged, so that 0.15 to 0.1 is a tie.
_SIGNIFICANT = 10
_WHOLE = Decimal(10) ** 20


class Rounding(BaseModel):
    """Report to the nearest ``step``; a tie goes to the even digit (ASTM E29, absolute method)."""

    model_config = ConfigDict(frozen=True)

    step: Decimal
    words: str

    def round(self, value: float) -> Decimal:
        """Return ``value`` rounded to the step, keeping the step's decimals (``22.0`` stays ``22.0``)."""
        clean = Decimal(f"{value:.{_SIGNIFICANT}g}")
        if abs(clean) >= _WHOLE:
            return clean  # no figure that is shown stands behind the point; a result so large is refused elsewhere
        steps = (clean / self.step).to_integral_value(rounding=ROUND_HALF_EVEN)
        rounded = (steps * self.step).quantize(self.step)
        return rounded or abs(rounded)  # no "-0"

    def text(self, value: float) -> str:
        return format(self.round(value), "f")


WHOLE = Rounding(step=Decimal("1"), words="to the nearest whole number")
TENTH = Rounding(step=Decimal("0.1"), words="to the nearest 0.1")
HUNDREDTH = Rounding(step=Decimal("0.01"), words="to the nearest 0.01")
THOUSANDTH = Rounding(step=Decimal("0.001"), words="to the nearest 0.001")


def significant(figures: int) -> "Significant":
    """Return the rule that keeps this many significant figures."""
    return Significant(figures=figures, words=f"to {figures} significant figures")


class Significant(BaseModel):
    """Report to a number of significant figures; a tie goes to the even digit."""

    model_config = ConfigDict(frozen=True)

    figures: int
    words: str

    def round(self, value: float) -> Decimal:
        clean = Decimal(f"{value:.{_SIGNIFICANT}g}")
        if not clean:
            return clean
        rounded = self._to(clean, clean.adjusted())
        # 9.96 to two figures is 10, not 10.0: rounding up may add a figure before the point.
        return rounded if rounded.adjusted() == clean.adjusted() else self._to(clean, rounded.adjusted())

    def _to(self, clean: Decimal, first: int) -> Decimal:
        """Return a number rounded so that its first figure, at this power of ten, begins as many as are kept."""
        step = Decimal(1).scaleb(first - self.figures + 1)
        if step < 1:
            return clean.quantize(step, rounding=ROUND_HALF_EVEN)
        return Rounding(step=step, words="").round(float(clean))

    def text(self, value: float) -> str:
        return format(self.round(value), "f")
