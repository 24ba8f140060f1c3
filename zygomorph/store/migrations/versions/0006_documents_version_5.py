"""Stored documents in version 5, whose looks go by mask layers, and the edits of them, which can
still be undone; gradients of one's own, which all studies share."""

import sqlalchemy as sa
from alembic import op

from zygomorph.core.document.beginnings import completed
from zygomorph.core.document.version_5 import newer_edits
from zygomorph.core.document.versions import newest, newest_preset

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    connection = op.get_bind()
    studies = sa.table("studies", sa.column("id", sa.String), sa.column("document", sa.JSON))
    edits = sa.table(
        "edits",
        sa.column("id", sa.Integer),
        sa.column("study_id", sa.String),
        sa.column("revision", sa.Integer),
        sa.column("operations", sa.JSON),
        sa.column("inverse", sa.JSON),
    )
    columns = sa.select(edits.c.id, edits.c.operations, edits.c.inverse)
    for study_id, document in connection.execute(sa.select(studies.c.id, studies.c.document)).all():
        own = columns.where(edits.c.study_id == study_id).order_by(edits.c.revision)
        rows = connection.execute(own).all()
        newer = newer_edits(document, [(operations, inverse) for _, operations, inverse in rows])
        for (row_id, _, _), (operations, inverse) in zip(rows, newer, strict=True):
            values = {"operations": operations, "inverse": inverse}
            connection.execute(edits.update().where(edits.c.id == row_id).values(**values))
        brought = completed(newest(document, 5))
        connection.execute(
            studies.update().where(studies.c.id == study_id).values(document=brought)
        )
    presets = sa.table("presets", sa.column("id", sa.String), sa.column("document", sa.JSON))
    for row_id, document in connection.execute(sa.select(presets.c.id, presets.c.document)).all():
        connection.execute(
            presets.update()
            .where(presets.c.id == row_id)
            .values(document=newest_preset(document, 5))
        )
    op.create_table(
        "gradients",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("gradient", sa.JSON, nullable=False),
        sa.Column("made", sa.String(40), nullable=False),
    )


def downgrade() -> None:
    raise NotImplementedError("Documents of version 5 are not brought back to version 4.")
