"""Stored documents in version 4, with lists of looks, lights and cameras, and the edits of them,
which can still be undone."""

import sqlalchemy as sa
from alembic import op

from zygomorph.core.document.beginnings import completed
from zygomorph.core.document.version_4 import newer_operation
from zygomorph.core.document.versions import newest, newest_preset

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    connection = op.get_bind()
    for name, brought in {
        "studies": lambda document: completed(newest(document, 4)),
        "presets": lambda preset: newest_preset(preset, 4),
    }.items():
        table = sa.table(name, sa.column("id", sa.String), sa.column("document", sa.JSON))
        for row_id, document in connection.execute(sa.select(table.c.id, table.c.document)).all():
            connection.execute(
                table.update().where(table.c.id == row_id).values(document=brought(document))
            )
    edits = sa.table(
        "edits",
        sa.column("id", sa.Integer),
        sa.column("operations", sa.JSON),
        sa.column("inverse", sa.JSON),
    )
    rows = sa.select(edits.c.id, edits.c.operations, edits.c.inverse)
    for row_id, operations, inverse in connection.execute(rows).all():
        connection.execute(
            edits.update()
            .where(edits.c.id == row_id)
            .values(
                operations=[newer_operation(each) for each in operations],
                inverse=[newer_operation(each) for each in inverse],
            )
        )


def downgrade() -> None:
    raise NotImplementedError("Documents of version 4 are not brought back to version 3.")
