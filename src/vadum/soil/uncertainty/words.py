"""What a sheet says below its uncertainties: what they hold, what they do not, and what was taken by default."""

from collections.abc import Iterable, Iterator

from vadum.soil.uncertainty.combined import Combined

_DEFAULT = " by default"
# A factor that rounds to 2 is not worth a word.
_TWO = 2.05
ALONE = "*"
"""Stands behind an uncertainty that holds instruments and constants only."""


def marked(one: Combined) -> str:
    """Return an uncertainty as it is printed beside its result: ``± 2``, ``± 0.2 *``."""
    return one.text if one.hand else f"{one.text} {ALONE}"


def notes(found: Iterable[Combined]) -> Iterator[str]:
    """Yield the sentences that belong below the results whose uncertainty is printed."""
    every = list(found)
    if not every:
        return
    others = [f", {one.k:.2g} for {one.parameter.symbol}" for one in every if one.k > _TWO]
    yield (
        f"± or ×/÷ is the expanded uncertainty of about 95 % (k = 2{''.join(others)}; ISO/IEC Guide 98-3): readings,"
        " certificates, constants, and how the test repeats. The sample's way to the bench and the ground between"
        " samples are not in it."
    )
    by_hand: dict[str, list[str]] = {}
    for one in every:
        if one.hand:
            by_hand.setdefault(one.hand.source, []).append(one.parameter.symbol)
    if by_hand:
        said = (f"{', '.join(symbols)} by {source}" for source, symbols in by_hand.items())
        yield f"How it repeats: {'; '.join(said)}."
    if any(one.hand is None for one in every):
        yield f"{ALONE} instruments and constants only: neither scatter nor a repeatability is known."
    default = dict.fromkeys(
        lead.label.removesuffix(_DEFAULT) for one in every for lead in one.leads if lead.label.endswith(_DEFAULT)
    )
    if default:
        yield f"No certificate says how well these are known; taken: {'; '.join(default)} (one standard uncertainty)."
