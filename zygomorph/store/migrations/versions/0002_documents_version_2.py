"""Stored documents in version 2, in which any noise may be ridged."""

import sqlalchemy as sa
from alembic import op

from zygomorph.core.document.study import migrated

revision = "0002"
down_revision = "0001"

STUDIES = sa.table("studies", sa.column("id", sa.String), sa.column("document", sa.JSON))


def upgrade() -> None:
    connection = op.get_bind()
    stored = connection.execute(sa.select(STUDIES.c.id, STUDIES.c.document)).all()
    for study_id, document in stored:
        connection.execute(
            STUDIES.update().where(STUDIES.c.id == study_id).values(document=migrated(document))
        )


def downgrade() -> None:
    raise NotImplementedError("Documents of version 2 are not brought back to version 1.")
