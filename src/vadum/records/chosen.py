"""What a project or the laboratory has chosen: on record with who changed it, from what to what, and never the later of
two hands alone."""

import hashlib
from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from pydantic import BaseModel
from sqlmodel import Session

from vadum.records.corrections import CorrectionError, corrections_of, keep_note, left_to_others
from vadum.records.tables import Correction, Project

Choice = TypeVar("Choice", bound=BaseModel)
_LONGEST = 400


def told(choice: BaseModel) -> dict[str, str]:
    """Return the values of a choice as a list of changes says them, by field."""
    return {name: _word(value) for name, value in choice.model_dump(mode="json").items()}


def choose(
    session: Session,
    of: Project | None,
    part: str,
    before: Choice,
    wanted: Choice,
    who: str,
    seen: int | None = None,
    say: Callable[[Choice], dict[str, str]] = told,
) -> Choice:
    """Note what is chosen otherwise from now on and return the whole choice; does not commit.

    What somebody else changed since the form was drawn, and this hand did not, stays as it is.

    Arguments
    ---------
    of : the project that chooses, None for the laboratory
    part : what the form is about
    seen : the newest change that the hand saw, 0 for none; None where it does not say
    say : the values in words, by field

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile to something else.
    ValidationError
        If it cannot be beside what somebody else changed meanwhile.
    """
    lines = {name: _line(part, info.title or name) for name, info in type(wanted).model_fields.items()}
    was, will = ({lines[name]: text for name, text in say(one).items()} for one in (before, wanted))
    try:
        others = left_to_others(changes_of(session, of, part), was, will, seen)
    except CorrectionError as error:
        error.others = frozenset(name for name, line in lines.items() if line in error.others)
        raise
    both = beside(before, wanted, (name for name, line in lines.items() if line in others))
    if others:
        # With what others changed meanwhile it is another whole than the one that was typed.
        both = type(wanted).model_validate(both.model_dump())
    changed = {line: [was[line], will[line]] for line in will if line not in others and will[line] != was[line]}
    if changed:
        keep_note(session, of, changed, who)
    return both


def beside(before: Choice, wanted: Choice, others: Iterable[str]) -> Choice:
    """Return what is wanted, but these fields as they are."""
    return wanted.model_copy(update={name: getattr(before, name) for name in others})


def changes_of(session: Session, of: Project | None, *parts: str) -> list[Correction]:
    """Return what was chosen otherwise in a form, or in several, the newest first."""
    starts = tuple(_line(part, "") for part in parts)
    return [one for one in corrections_of(session, of) if any(line.startswith(starts) for line in one.changed)]


def _line(part: str, title: str) -> str:
    return f"{part}: {title}"


def _word(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return "; ".join(map(_word, value))
    text = "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)
    # A picture is told apart, not shown.
    return text if len(text) <= _LONGEST else f"file {hashlib.sha256(text.encode()).hexdigest()[:8]}"
