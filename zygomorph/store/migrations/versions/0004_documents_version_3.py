"""Stored documents in version 3, in which a bend turns right-handed."""

import sqlalchemy as sa
from alembic import op

from zygomorph.core.document.versions import newest, newest_preset

revision = "0004"
down_revision = "0003"

TABLES = {"studies": newest, "presets": newest_preset}


def upgrade() -> None:
    connection = op.get_bind()
    for name, brought in TABLES.items():
        table = sa.table(name, sa.column("id", sa.String), sa.column("document", sa.JSON))
        for row_id, document in connection.execute(sa.select(table.c.id, table.c.document)).all():
            connection.execute(
                table.update().where(table.c.id == row_id).values(document=brought(document, 3))
            )


def downgrade() -> None:
    raise NotImplementedError("Documents of version 3 are not brought back to version 2.")
