"""who is signed off to measure by a method alone

Revision ID: 0025
"""

import sqlalchemy as sa
from alembic import op

revision = "0025"
down_revision = "0024"


def upgrade() -> None:
    op.create_table(
        "competence",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("until", sa.Date(), nullable=False),
        sa.Column("signed_by", sa.String(), nullable=False),
        sa.Column("grounds", sa.String(), nullable=False),
        sa.Column("ended_at", sa.DateTime()),
        sa.Column("ended_by", sa.String(), nullable=False),
    )
    op.create_index("ix_competence_person_id", "competence", ["person_id"])


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")
