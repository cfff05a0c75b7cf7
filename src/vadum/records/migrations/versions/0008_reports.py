"""reports of a project"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "report",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id"), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("wanted", sa.JSON(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("steps", sa.Integer(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("said", sa.String(), nullable=False),
        sa.Column("process", sa.Integer(), nullable=True),
        sa.Column("number", sa.String(), nullable=False),
        sa.Column("pages", sa.Integer(), nullable=False),
        sa.Column("revisions", sa.JSON(), nullable=False),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=True),
    )
    op.create_index("ix_report_project_id", "report", ["project_id"])
    op.create_index("ix_report_state", "report", ["state"])
    op.create_index("ix_report_number", "report", ["number"])


def downgrade() -> None:
    for name in ("number", "state", "project_id"):
        op.drop_index(f"ix_report_{name}", "report")
    op.drop_table("report")
