"""Presets, as they were kept; a use of one is a copy in its study."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from zygomorph.core.document.groups import check_preset
from zygomorph.store.database import NotStored, writing
from zygomorph.store.models import PresetRow, now


@dataclass(frozen=True)
class StoredPreset:
    id: str
    document: dict[str, Any]
    changed: str


def _stored(row: PresetRow) -> StoredPreset:
    return StoredPreset(row.id, row.document, row.changed)


def _row(session: Session, preset: str) -> PresetRow:
    row = session.get(PresetRow, preset)
    if row is None:
        raise NotStored(f"There is no preset {preset!r}.", "It may have been removed.")
    return row


class Presets:
    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def all(self) -> Sequence[StoredPreset]:
        """Those that are not removed, by name."""
        with Session(self._engine) as session:
            rows = session.scalars(
                select(PresetRow)
                .where(PresetRow.removed.is_(False))
                .order_by(PresetRow.name, PresetRow.made)
            )
            return [_stored(row) for row in rows]

    def get(self, preset: str) -> StoredPreset:
        """Raises NotStored."""
        with Session(self._engine) as session:
            return _stored(_row(session, preset))

    def keep(self, document: Any, preset: str | None = None) -> StoredPreset:
        """Store a preset: a new one, or what another is from now on.

        Uses that were made of it before stay as they are. Raises DocumentError, NotStored.
        """
        checked = check_preset(document)
        with writing(self._engine) as session:
            if preset is None:
                row = PresetRow(id=uuid.uuid4().hex[:12], name=checked["name"], removed=False)
                session.add(row)
            else:
                row = _row(session, preset)
            row.name = checked["name"]
            row.document = checked
            row.changed = now()
            session.flush()
            return _stored(row)

    def set_removed(self, preset: str, removed: bool) -> None:
        """Raises NotStored."""
        with writing(self._engine) as session:
            _row(session, preset).removed = removed
