"""Which index a question is answered by, where SQLite, which keeps no counts of what is on record, would take one that
brings years of tests."""

from typing import Any

from sqlalchemy import UnaryExpression
from sqlalchemy.sql.operators import custom_op


def unindexed(column: Any) -> Any:
    """Return a column for a condition that is looked at row by row: few rows are left by another condition.

    Source: SQLite, The Query Optimizer Overview, section "Disqualifying WHERE Clause Terms Using Unary +".
    """
    return UnaryExpression(column, operator=custom_op("+"), type_=column.type)
