"""Rules that a laboratory sets for itself."""

from pydantic import BaseModel, Field
from sqlmodel import Session

from vadum.records.kept_settings import keep_setting, setting

_KEY = "rules"


class Rules(BaseModel):
    """What is off until the manager chooses it: the one who alone checked all tests of a report issues it too; who
    measures adds projects, tins and other pieces; who measures is signed off for the method, or was watched."""

    one_checks_and_issues: bool = Field(default=False, title="one checks and issues")
    technicians_add: bool = Field(default=False, title="who measures adds")
    competence_needed: bool = Field(default=False, title="sign-off needed")


def rules_of(session: Session) -> Rules:
    """Return the laboratory's rules; the strict ones before anybody set others."""
    kept = setting(session, _KEY)
    return Rules.model_validate_json(kept) if kept else Rules()


def keep_rules(session: Session, rules: Rules) -> None:
    """Keep the rules for everything from now on, and commit."""
    keep_setting(session, _KEY, rules.model_dump_json())
