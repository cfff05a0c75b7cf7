"""Alembic's entry: runs migrations on the connection, and in the transaction, the application hands over."""

from alembic import context
from sqlmodel import SQLModel

import vadum.records.tables  # noqa: F401  registers the tables

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=SQLModel.metadata,
    render_as_batch=True,
    transactional_ddl=False,
)
context.run_migrations()
