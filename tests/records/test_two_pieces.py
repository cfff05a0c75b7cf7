"""Several pieces of equipment on one sheet: what each brings counts, and two that say otherwise are asked about."""

import numpy as np
import pytest
from sqlmodel import select

from vadum.records.brought import constants_in
from vadum.records.context import footing
from vadum.records.standing import live
from vadum.records.tables import Equipment, Location, Test
from vadum.soil.registry import METHODS

VANES = {
    "Vane A": {"constant": 2.33, "full_scale": 100.0, "diameter_mm": 65.0, "height_mm": 130.0},
    "Vane B": {"constant": 5.0, "full_scale": 100.0, "diameter_mm": 50.0, "height_mm": 100.0},
}


def begun(session, code, kind, pieces, **typed):
    """Return a test of a virtual soil whose constants are blank but for those typed, with these pieces in use."""
    method, rng = METHODS[code], np.random.default_rng(3)
    read = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    known = {name for constants in pieces.values() for name in constants}
    test = Test(method=code, state="running", location_id=session.exec(select(Location.id)).first())
    test.kept = {name: value for name, value in read.items() if name not in known} | typed
    test.uses = [Equipment(kind=kind, name=name, constants=constants) for name, constants in pieces.items()]
    session.add(test)
    session.commit()
    return test


def differ(session, test):
    return [one.message for one in live(session, test).reduction.findings if one.code == "pieces-differ"]


@pytest.mark.parametrize("order", [1, -1])
def test_of_two_vanes_neither_is_taken_without_a_word(session, order):
    """26 or 12 kPa, “reported”, by which of the two had been ticked first."""
    test = begun(session, "vane", "vane", dict(list(VANES.items())[::order]))
    assert not live(session, test).reduction.reportable
    one, other = list(VANES)[::order]
    assert differ(session, test) == [
        f"{one} and {other} are both in use on this sheet and differ in constant of vane, vane diameter, vane height."
    ]


def test_what_is_typed_is_nobodys_to_fill(session):
    """A vane that was changed on the way down: both were in use, and the sheet says which constants hold where."""
    assert differ(session, begun(session, "vane", "vane", VANES, **VANES["Vane A"])) == []


def test_two_pieces_that_say_the_same_are_as_one(session):
    twins = {"Vane A": VANES["Vane A"], "Vane C": VANES["Vane A"]}
    assert differ(session, begun(session, "vane", "vane", twins)) == []


def test_each_piece_brings_its_own_constants(session):
    """A box and a hanger: those of the second piece were left blank."""
    pieces = {"Box 9": {"side_mm": 60.0}, "Hanger 9": {"hanger_kg": 0.5, "lever": 10.0}}
    test = begun(session, "direct-shear", "shear box", pieces, hanger_kg=2.0)
    standing = footing(session, test)
    assert constants_in(standing.context) == {"side_mm": 60.0, "hanger_kg": 0.5, "lever": 10.0}
    [box, hanger] = [lean for lean in standing.leans if lean.name == "constants"]
    assert (box.source, hanger.source) == tuple(pieces)
    assert "0.5" not in hanger.text, "what is typed is not leant on"
    assert not any("lever" in one.message for one in live(session, test).reduction.findings if one.code == "missing")
    found = next(one for one in live(session, test).reduction.findings if one.code == "other-piece")
    assert "Hanger 9 has 0.5 kg" in found.message


def test_a_second_piece_that_fills_nothing_is_nothing_to_have_moved_since_a_check(session):
    """A sheet checked with two pieces while only the first counted is as it was."""
    pieces = {"Box 9": {"side_mm": 60.0}, "Hanger 9": {"hanger_kg": 0.5}}
    both = begun(session, "direct-shear", "shear box", pieces, hanger_kg=2.0)
    with_both = footing(session, both).leans
    both.uses = both.uses[:1]
    session.commit()
    assert footing(session, both).leans == with_both


def test_two_load_rings_of_different_calibration_are_asked_about(session):
    rings = [
        Equipment(kind="load ring", name=name, calibration=[[0.0, 0.0], [1000.0, kn]])
        for name, kn in (("Ring 8", 12.0), ("Ring 9", 25.0))
    ]
    test = begun(session, "cbr-in-situ", "load ring", {})
    test.uses = rings[:1]
    assert differ(session, test) == []
    test.uses = rings
    assert differ(session, test) == ["Ring 8 and Ring 9 are both in use on this sheet and differ in calibration."]
