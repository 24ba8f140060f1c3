"""Gradients of one's own, which all studies can take. A study that takes one has a copy of it."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from zygomorph.store.database import NotStored, writing
from zygomorph.store.models import GradientRow


@dataclass(frozen=True)
class KeptGradient:
    id: str
    name: str
    gradient: dict[str, Any]


def _kept(row: GradientRow) -> KeptGradient:
    return KeptGradient(row.id, row.name, row.gradient)


class Gradients:
    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def all(self) -> Sequence[KeptGradient]:
        """By name."""
        with Session(self._engine) as session:
            rows = session.scalars(select(GradientRow).order_by(GradientRow.name, GradientRow.made))
            return [_kept(row) for row in rows]

    def keep(self, name: str, gradient: dict[str, Any]) -> KeptGradient:
        """A new one, or, under a name that is taken, what that one is from now on."""
        with writing(self._engine) as session:
            row = session.scalars(select(GradientRow).where(GradientRow.name == name)).first()
            if row is None:
                row = GradientRow(id=uuid.uuid4().hex[:12], name=name, gradient=gradient)
                session.add(row)
            row.gradient = gradient
            session.flush()
            return _kept(row)

    def remove(self, gradient: str) -> None:
        """Raises NotStored."""
        with writing(self._engine) as session:
            row = session.get(GradientRow, gradient)
            if row is None:
                raise NotStored("This gradient is not here.", "It may have been removed.")
            session.delete(row)
