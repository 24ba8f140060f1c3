"""First tables: studies, edits, assets."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "studies",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("name", sa.String(120), nullable=False, index=True),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.Column("created", sa.String(40), nullable=False),
        sa.Column("changed", sa.String(40), nullable=False),
    )
    op.create_table(
        "edits",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "study_id",
            sa.String(40),
            sa.ForeignKey("studies.id", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("window", sa.String(80), nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("label", sa.String(200), nullable=False),
        sa.Column("operations", sa.JSON(), nullable=False),
        sa.Column("inverse", sa.JSON(), nullable=False),
        sa.Column("undoes", sa.Integer(), sa.ForeignKey("edits.id"), nullable=True),
        sa.Column("undone", sa.Boolean(), nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
    )
    op.create_index("ix_edits_study_revision", "edits", ["study_id", "revision"], unique=True)
    op.create_table(
        "assets",
        sa.Column("digest", sa.String(64), primary_key=True),
        sa.Column("filename", sa.String(255), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("report", sa.JSON(), nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("assets")
    op.drop_table("edits")
    op.drop_table("studies")
