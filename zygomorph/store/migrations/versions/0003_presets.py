"""A table of presets: groups of steps that are kept to be used again."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "presets",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
        sa.Column("changed", sa.String(40), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("presets")
