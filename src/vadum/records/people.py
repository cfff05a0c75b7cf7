"""People of the laboratory: roles, passwords, sessions and tokens."""

import hashlib
import secrets
from datetime import timedelta
from functools import cache
from typing import Any, Literal, get_args

from sqlalchemy import bindparam
from sqlmodel import Session, col, select

from vadum.records.once import once
from vadum.records.tables import (
    Attachment,
    Calibration,
    Check,
    Competence,
    Correction,
    IssuedSheet,
    LaboratorySetting,
    Location,
    Membership,
    OperationTime,
    Person,
    Report,
    Revision,
    Sample,
    SignIn,
    Test,
    now,
)

Role = Literal["technician", "checker", "manager", "reader"]
Scope = Literal["read", "measure"]
ROLE_NAMES: tuple[str, ...] = get_args(Role)
LEAST_PASSWORD = 10
_GIVEN_BYTES = 9
_SESSION = timedelta(hours=12)
_AHEAD = timedelta(minutes=5)


# Where a name is written under what a person did.
_SIGNED: tuple[Any, ...] = (
    Revision.who,
    Check.who,
    Attachment.who,
    Calibration.who,
    Correction.who,
    OperationTime.who,
    IssuedSheet.who,
    Report.who,
    Competence.signed_by,
)


class PeopleError(ValueError):
    """Something that cannot be done with people; the message is for the person who tried."""


@cache
def _hasher() -> Any:
    from pwdlib import PasswordHash

    return PasswordHash.recommended()


def cookie_key(session: Session) -> str:
    """Return the key that signs this laboratory's cookies; made once, kept in its database."""
    kept = session.get(LaboratorySetting, "cookie key")
    if kept is None:
        kept = LaboratorySetting(key="cookie key", value=secrets.token_hex(32))
        session.add(kept)
        session.commit()
    return kept.value


def signed_as(session: Session, name: str) -> str:
    """Return a name with what the person is in the laboratory: the function, or the role where none was said."""
    every = select(Person.name, Person.function, Person.role)
    known = once(session, "functions", lambda: {name: rest for name, *rest in session.exec(every).all()})
    if name not in known:
        return name
    function, role = known[name]
    # A laboratory that calls its people by their roles does not say them twice.
    said = function or (role if role != name else "")
    return f"{name}, {said}" if said else name


def anybody(session: Session) -> bool:
    """Return whether somebody is registered: from then on everybody signs in."""
    return session.exec(select(Person.id).limit(1)).first() is not None


def has_manager(session: Session) -> bool:
    query = select(Person.id).where(Person.role == "manager", col(Person.active), Person.password_hash != "")
    return session.exec(query.limit(1)).first() is not None


def add_person(session: Session, name: str, role: str, password: str = "", projects: list[int] | None = None) -> Person:
    """Register a person and commit. ``projects`` limits what they see; None is everywhere.

    Raises
    ------
    PeopleError
        If the name is taken, the role unknown or the password too short; the first one must be a manager.
    """
    name = name.strip()
    if not name or role not in ROLE_NAMES:
        raise PeopleError(f"Give a name and a role: {', '.join(ROLE_NAMES)}.")
    if session.exec(select(Person).where(Person.name == name)).first():
        raise PeopleError(f"{name} is registered already.")
    if password:
        _long_enough(password)
    if not anybody(session) and role != "manager":
        raise PeopleError("The first person is a manager: register one first.")
    person = Person(
        name=name, role=role, password_hash=_hasher().hash(password) if password else "", everywhere=projects is None
    )
    session.add(person)
    session.flush()
    session.add_all(Membership(person_id=person.id or 0, project_id=p) for p in projects or ())
    session.commit()
    return person


def _long_enough(password: str) -> None:
    if len(password) < LEAST_PASSWORD:
        raise PeopleError(f"A password has at least {LEAST_PASSWORD} characters.")


def change_password(session: Session, person: Person, password: str, keep: SignIn | None = None) -> None:
    """Give a person a new password and end all their sessions but one; tokens of scripts go on. Commits.

    Raises
    ------
    PeopleError
        If it is too short.
    """
    _long_enough(password)
    person.password_hash = _hasher().hash(password)
    session.add(person)
    for one in session.exec(select(SignIn).where(SignIn.person_id == person.id, SignIn.token_name == "")):
        if one.ended_at is None and (keep is None or one.id != keep.id):
            one.ended_at = now()
    session.commit()


def change_role(session: Session, person: Person, role: str, function: str = "") -> None:
    """Let a person work in another role from now on; what they recorded stays as it is. Commits.

    ``function`` is what the person is in the laboratory, as sheets print it behind the name; "" prints the role.

    Raises
    ------
    PeopleError
        If the role is unknown, or the last manager would be none.
    """
    if role not in ROLE_NAMES:
        raise PeopleError(f"Give a role: {', '.join(ROLE_NAMES)}.")
    if role != "manager":
        _another_manager(session, person)
    person.role, person.function = role, function.strip()
    session.add(person)
    session.commit()


def rename(session: Session, person: Person, name: str) -> None:
    """Put a person's name right while nothing is signed with the wrong one. Commits.

    What was measured and checked stands under the name it was signed with: by it whoever measured is told from whoever
    checked.

    Raises
    ------
    PeopleError
        If it is blank or taken, or something is signed with the present one.
    """
    name = name.strip()
    if not name:
        raise PeopleError("Give a name.")
    if name != person.name and session.exec(select(Person).where(Person.name == name)).first():
        raise PeopleError(f"{name} is registered already.")
    for signed in _SIGNED:
        if session.exec(select(signed).where(signed == person.name).limit(1)).first():
            raise PeopleError(
                f"Records are signed {person.name}: the name stays. Register {name}, and let {person.name} go."
            )
    person.name = name
    session.add(person)
    session.commit()


def _another_manager(session: Session, person: Person) -> None:
    others = select(Person).where(Person.role == "manager", col(Person.active), Person.id != person.id)
    if person.role == "manager" and person.active and session.exec(others).first() is None:
        raise PeopleError("The last manager stays: register another one first.")


def by_password(session: Session, name: str, password: str) -> Person | None:
    """Return the active person of this name and password; as slow for an unknown name as for a known one."""
    person = session.exec(select(Person).where(Person.name == name)).first()
    kept = person.password_hash if person and person.password_hash and person.active else _nobody()
    right = bool(_hasher().verify(password, kept))
    return person if right and person is not None and person.password_hash == kept else None


@cache
def _nobody() -> str:
    return str(_hasher().hash(secrets.token_hex(16)))


def sign_in(session: Session, person: Person, *, token_name: str = "", scope: str = "") -> str:
    """Begin a session, or make a token with a name and a scope; return its secret, which is kept nowhere."""
    secret = secrets.token_urlsafe(32)
    session.add(SignIn(person_id=person.id or 0, secret_sha256=hash_of(secret), token_name=token_name, scope=scope))
    session.commit()
    return secret


_WITH_SECRET = select(SignIn, Person).join(Person).where(SignIn.secret_sha256 == bindparam("secret"))


def whose(session: Session, secret: str) -> tuple[Person, SignIn] | None:
    """Return the person of a secret that is still good: not ended, of an active person, and no session of yesterday."""
    found, person = session.exec(_WITH_SECRET, params={"secret": hash_of(secret)}).first() or (None, None)
    if found is None or found.ended_at is not None or person is None or not person.active:
        return None
    return (person, found) if current(found) else None


def current(entry: SignIn) -> bool:
    """Return whether a session is of today; a token is until it is revoked.

    A session of tomorrow was made by a clock that was wrong, or by a hand: it could last for years.
    """
    return bool(entry.token_name) or -_AHEAD < now() - entry.at < _SESSION


def end(session: Session, found: SignIn) -> None:
    """Sign out, or revoke a token."""
    found.ended_at = now()
    session.add(found)
    session.commit()


def deactivate(session: Session, person: Person) -> None:
    """Let a person in no more; what they recorded stays under their name.

    Raises
    ------
    PeopleError
        If it is the last manager.
    """
    _another_manager(session, person)
    person.active = False
    for one in session.exec(select(SignIn).where(SignIn.person_id == person.id, col(SignIn.ended_at).is_(None))):
        one.ended_at = now()
    session.add(person)
    session.commit()


def bring_back(session: Session, person: Person) -> None:
    """Let a person in again who was let go, in the role they had; sessions and tokens stay ended. Commits."""
    person.active = True
    session.add(person)
    session.commit()


def reset_password(session: Session, person: Person) -> str:
    """Give a person a password that was forgotten anew, end all their sessions, and return it: it is kept nowhere."""
    password = secrets.token_urlsafe(_GIVEN_BYTES)
    change_password(session, person, password)
    return password


def projects_of(session: Session, person: Person) -> set[int] | None:
    """Return the projects a person may see, None for all."""
    if person.everywhere or person.role == "manager":
        return None
    return set(session.exec(select(Membership.project_id).where(Membership.person_id == person.id)).all())


def project_of(session: Session, names: dict[str, Any]) -> int | None:
    """Return the project that the names in an address belong to (``test_id`` and the like), None when to none."""
    found: Any = None
    if "project_id" in names:
        return int(names["project_id"])
    if "attachment_id" in names and (kept := session.get(Attachment, int(names["attachment_id"]))):
        found = session.get(Test, kept.test_id)
    if "report_id" in names and (report := session.get(Report, int(names["report_id"]))):
        return report.project_id
    if "test_id" in names:
        found = session.get(Test, int(names["test_id"]))
    if isinstance(found, Test):
        return found.ground.project_id if found.ground else None
    if "sample_id" in names and (sample := session.get(Sample, int(names["sample_id"]))):
        return sample.location.project_id
    if "location_id" in names and (place := session.get(Location, int(names["location_id"]))):
        return place.project_id
    return None


def hash_of(secret: str) -> str:
    """Return what of a secret is kept, on disk and in memory."""
    return hashlib.sha256(secret.encode()).hexdigest()
