"""Constructions moved by hand: settings that override the automatic choice, with the reason that is printed."""

from vadum.soil.contract.field import Settings, remark
from vadum.soil.contract.finding import Finding, warn

BY_HAND_UNEXPLAINED = warn(
    "by-hand-unexplained",
    "{what} set by hand, no reason given.",
    "Say why beside the figure, or let it go back to automatic.",
)


class HandSettings(Settings):
    """Settings of a method whose figure has handles."""

    by_hand_because: str | None = remark(
        "moved by hand because",
        "Reason for a line or point set by hand on the figure; printed on the sheet.",
        longest=200,
    )


def unexplained(settings: HandSettings, moved: dict[str, str]) -> list[Finding]:
    """Return a warning for constructions that stand where a hand put them without a reason.

    Arguments
    ---------
    moved : name of each construction by the setting that overrides it
    """
    by_hand = [words for name, words in moved.items() if getattr(settings, name) is not None]
    if not by_hand or settings.by_hand_because:
        return []
    return [BY_HAND_UNEXPLAINED.at(what=", ".join(by_hand).capitalize())]
