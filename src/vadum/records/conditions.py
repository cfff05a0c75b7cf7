"""The conditions that tests are looked for by, and which index answers them: SQLite keeps no counts of what is on
record and would take one that brings years of tests."""

from typing import Any

from sqlalchemy import ColumnElement, UnaryExpression, and_, bindparam, or_
from sqlalchemy.sql.operators import custom_op
from sqlmodel import col

from vadum.records.tables import Test


def on_soil() -> ColumnElement[bool]:
    """Return the condition that a test is of a sample or in the ground: not of equipment, not for practice."""
    return or_(col(Test.sample_id).is_not(None), col(Test.location_id).is_not(None))


def of_record() -> ColumnElement[bool]:
    """Return the condition that a test is the laboratory's own: anything but practice."""
    return or_(on_soil(), col(Test.equipment_id).is_not(None))


def of_practice() -> ColumnElement[bool]:
    """Return the condition that a test is practice, as its index has it: ``not`` of the others would read them all."""
    return and_(col(Test.sample_id).is_(None), col(Test.location_id).is_(None), col(Test.equipment_id).is_(None))


def among(column: Any, name: str) -> ColumnElement[bool]:
    """Return the condition that a column is one of those given under a name when it is asked for.

    A statement is made once and kept with its module: making it takes longer than asking it.
    """
    condition: ColumnElement[bool] = column.in_(bindparam(name, expanding=True))
    return condition


def unindexed(column: Any) -> Any:
    """Return a column for a condition that is looked at row by row: few rows are left by another condition.

    Source: SQLite, The Query Optimizer Overview, section "Disqualifying WHERE Clause Terms Using Unary +".
    """
    return UnaryExpression(column, operator=custom_op("+"), type_=column.type)
