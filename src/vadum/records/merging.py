"""Two locations that are one: what was made at the second goes to the first."""

from sqlmodel import Session

from vadum.records.corrections import CorrectionError, ask_why, hand_over, note
from vadum.records.tables import Location


def merge(session: Session, location: Location, into: Location, who: str, reason: str = "") -> None:
    """Move the samples, tests and layers of a location to another one of its project, take it away, and commit.

    The layers move where the other has none; what is typed of the other stands.

    Raises
    ------
    CorrectionError
        If it is the same one or of another project, a sample's name stands in both, a sample lies below the other's
        depth, both have layers, or something that was checked needs a reason.
    """
    if location.id == into.id or location.project_id != into.project_id:
        raise CorrectionError("into", "choose another location of this project")
    names = {sample.name.casefold() for sample in into.samples}
    if twice := sorted(sample.name for sample in location.samples if sample.name.casefold() in names):
        raise CorrectionError("into", f"{into.name} has its own {', '.join(twice)}: rename one first")
    deepest = max((sample.base_m for sample in location.samples), default=0.0)
    if deepest > into.depth_m:
        raise CorrectionError("into", f"{into.name} is {into.depth_m:g} m deep, a sample reaches {deepest:g} m")
    if location.strata and into.strata:
        raise CorrectionError("into", "both have layers: take those of one away first")
    moved = ", ".join(sample.name for sample in location.samples) or "no sample"
    brought = f"{location.name}: {moved}, {len(location.tests)} tests in the ground"
    ask_why(location, reason)
    hand_over(session, location, into)
    note(session, into, {"merged": ["", brought]}, who, reason)
    for name in ("samples", "tests", "strata"):
        for one in list(getattr(location, name)):
            one.location = into
            session.add(one)
    session.flush()
    session.refresh(location)
    session.delete(location)
    session.commit()
