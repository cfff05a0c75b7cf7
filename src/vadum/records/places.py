"""Projects by their names."""

from sqlmodel import Session, func, select

from vadum.records.tables import Project


def project_called(session: Session, name: str) -> Project | None:
    """Return the project of a name, in whatever capitals."""
    return session.exec(select(Project).where(func.lower(Project.name) == name.strip().lower())).first()
