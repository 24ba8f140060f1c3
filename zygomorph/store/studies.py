"""Studies and their history: every accepted edit is a row, undo and redo included."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import TypeAdapter
from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session

from zygomorph.core.document.edits import (
    EditError,
    Operation,
    Set,
    apply_edit,
    clash,
    touched_paths,
    value_at,
    where_it_can,
)
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.inspect.openable import check_openable
from zygomorph.store.database import NotStored, writing
from zygomorph.store.models import EditRow, StudyRow, now

Clashing = Literal["refuse", "skip", "over"]
OPERATIONS: TypeAdapter[list[Any]] = TypeAdapter(list[Operation])


class EditClash(ZygomorphError):
    """Two windows changed the same thing; ``mine`` and ``theirs`` are the two versions."""

    def __init__(self, path: str, mine: Any, theirs: Any, revision: int) -> None:
        super().__init__(
            f"Another window has changed {path} meanwhile.",
            "Look at both versions and choose one; nothing was stored.",
        )
        self.path = path
        self.mine = mine
        self.theirs = theirs
        self.revision = revision


@dataclass(frozen=True)
class Stored:
    """A study as stored, with what this window could take back or bring back."""

    id: str
    document: dict[str, Any]
    revision: int
    created: str
    changed: str
    undo_label: str | None = None
    redo_label: str | None = None


def _stored(row: StudyRow, undo: EditRow | None = None, redo: EditRow | None = None) -> Stored:
    return Stored(
        row.id,
        row.document,
        row.revision,
        row.created,
        row.changed,
        undo.label if undo else None,
        redo.label if redo else None,
    )


def _row(session: Session, study_id: str) -> StudyRow:
    row = session.get(StudyRow, study_id)
    if row is None:
        raise NotStored(f"There is no study {study_id!r}.", "It may have been removed.")
    return row


def _last_edit(session: Session, study_id: str, window: str) -> EditRow | None:
    """This window's last edit or redo that has not been taken back."""
    return session.scalars(
        select(EditRow)
        .where(
            EditRow.study_id == study_id,
            EditRow.window == window,
            EditRow.kind.in_(("edit", "redo")),
            EditRow.undone.is_(False),
        )
        .order_by(EditRow.revision.desc())
        .limit(1)
    ).first()


def _last_undo(session: Session, study_id: str, window: str) -> EditRow | None:
    """This window's last undo that can be brought back: nothing new was done after it."""
    undo = session.scalars(
        select(EditRow)
        .where(
            EditRow.study_id == study_id,
            EditRow.window == window,
            EditRow.kind == "undo",
            EditRow.undone.is_(False),
        )
        .order_by(EditRow.revision.desc())
        .limit(1)
    ).first()
    if undo is None:
        return None
    newer = session.scalars(
        select(EditRow.revision).where(
            EditRow.study_id == study_id,
            EditRow.window == window,
            EditRow.kind == "edit",
            EditRow.revision > undo.revision,
        )
    ).first()
    return None if newer is not None else undo


def _with_history(session: Session, row: StudyRow, window: str) -> Stored:
    return _stored(row, _last_edit(session, row.id, window), _last_undo(session, row.id, window))


class Studies:
    """The stored studies."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def all(self, removed: bool = False) -> Sequence[Stored]:
        with Session(self.engine) as session:
            rows = session.scalars(
                select(StudyRow)
                .where(StudyRow.removed.is_(removed))
                .order_by(StudyRow.created, StudyRow.id)
            )
            return [_stored(row) for row in rows]

    def create(self, document: Any) -> Stored:
        """Store a new study. Raises DocumentError."""
        study = check_document(document)
        check_openable(study)
        with writing(self.engine) as session:
            row = StudyRow(
                id=uuid.uuid4().hex[:12],
                name=study.name,
                document=dict(study.document),
                revision=0,
                removed=False,
            )
            session.add(row)
            session.flush()
            return _stored(row)

    def get(self, study_id: str, window: str = "") -> Stored:
        """Raises NotStored."""
        with Session(self.engine) as session:
            return _with_history(session, _row(session, study_id), window)

    def document(self, study_id: str) -> dict[str, Any]:
        """The document alone, without a look at the history. Raises NotStored."""
        with Session(self.engine) as session:
            return _row(session, study_id).document

    def find(self, name: str) -> Stored:
        """A study by id or by name. Raises NotStored that names what there is."""
        with Session(self.engine) as session:
            row = session.scalars(
                select(StudyRow)
                .where((StudyRow.id == name) | (func.lower(StudyRow.name) == name.lower()))
                .where(StudyRow.removed.is_(False))
                .order_by(StudyRow.changed.desc())
            ).first()
            if row is not None:
                return _stored(row)
            names = session.scalars(select(StudyRow.name).where(StudyRow.removed.is_(False)))
            known = ", ".join(repr(n) for n in names)
        raise NotStored(f"There is no study named {name!r}.", f"Stored: {known or 'none'}.")

    def set_removed(self, study_id: str, removed: bool) -> Stored:
        with writing(self.engine) as session:
            row = _row(session, study_id)
            row.removed = removed
            row.changed = now()
            return _stored(row)

    def edit(
        self, study_id: str, operations: Sequence[Any], revision: int, window: str, label: str
    ) -> Stored:
        """Apply and store an edit that was made on a revision.

        Edits of other windows since then are merged where they touch other parts.

        Raises EditClash, EditError, DocumentError (the document would be wrong), NotStored.
        """
        with writing(self.engine) as session:
            row = _row(session, study_id)
            if revision > row.revision or revision < 0:
                raise ZygomorphError(
                    f"The study has no revision {revision}; the newest is {row.revision}.",
                    "Load the study again.",
                )
            self._refuse_clash(session, row, operations, revision)
            self._append(session, row, operations, window, label, "edit", None)
            return _with_history(session, row, window)

    def undo(self, study_id: str, window: str, clashing: Clashing = "refuse") -> Stored:
        """Take back this window's last edit, never another window's.

        clashing : where another window has changed the same since, "refuse" it, "skip" the edit
            for good, or take it back "over" what the other window did

        Raises EditClash.
        """
        return self._take_back(study_id, window, "undo", clashing)

    def redo(self, study_id: str, window: str, clashing: Clashing = "refuse") -> Stored:
        """Bring back what this window last took back. Raises EditClash."""
        return self._take_back(study_id, window, "redo", clashing)

    def _take_back(self, study_id: str, window: str, kind: str, clashing: Clashing) -> Stored:
        find = _last_edit if kind == "undo" else _last_undo
        with writing(self.engine) as session:
            row = _row(session, study_id)
            target = find(session, study_id, window)
            if target is None:
                raise ZygomorphError(f"There is nothing to {kind}.", "")
            target.undone = True
            if clashing == "skip":
                session.flush()
                return _with_history(session, row, window)
            operations = OPERATIONS.validate_python(target.inverse)
            if clashing == "refuse":
                self._refuse_clash(session, row, operations, target.revision, window)
            try:
                # What an element stood behind may have been removed since.
                operations = [where_it_can(row.document, each) for each in operations]
                self._append(session, row, operations, window, target.label, kind, target.id)
            except EditError as error:
                # What it speaks of is gone: it can only be passed over.
                path = touched_paths(operations)[0]
                now_there = _now_at(row.document, path)
                mine = _version(operations, path)
                raise EditClash(path, mine, now_there, row.revision) from error
            session.flush()
            return _with_history(session, row, window)

    def history(self, study_id: str) -> list[dict[str, Any]]:
        """All edits, oldest first."""
        with Session(self.engine) as session:
            _row(session, study_id)
            rows = session.scalars(
                select(EditRow).where(EditRow.study_id == study_id).order_by(EditRow.revision)
            )
            return [
                {
                    "revision": r.revision,
                    "kind": r.kind,
                    "label": r.label,
                    "window": r.window,
                    "made": r.made,
                    "undone": r.undone,
                }
                for r in rows
            ]

    def _refuse_clash(
        self,
        session: Session,
        row: StudyRow,
        operations: Sequence[Any],
        revision: int,
        own_window: str | None = None,
    ) -> None:
        """Raise EditClash where an edit since ``revision`` touches the same path.

        own_window : edits of this window do not clash (undo walks back through them in order)
        """
        mine = touched_paths(operations)
        newer = session.scalars(
            select(EditRow)
            .where(EditRow.study_id == row.id, EditRow.revision > revision)
            .order_by(EditRow.revision)
        )
        for edit in _lasting(newer):
            if edit.window == own_window:
                continue
            theirs = touched_paths(OPERATIONS.validate_python(edit.operations))
            path = clash(mine, theirs)
            if path is not None:
                raise EditClash(
                    path, _version(operations, path), _now_at(row.document, path), row.revision
                )

    def _append(
        self,
        session: Session,
        row: StudyRow,
        operations: Sequence[Any],
        window: str,
        label: str,
        kind: str,
        undoes: int | None,
    ) -> None:
        changed, inverse = apply_edit(row.document, operations)
        study = check_document(changed)
        check_openable(study)
        row.document = dict(study.document)
        row.name = study.name
        row.revision += 1
        row.changed = now()
        session.add(
            EditRow(
                study_id=row.id,
                revision=row.revision,
                window=window,
                kind=kind,
                label=label,
                operations=[o.model_dump(mode="json") for o in operations],
                inverse=inverse,
                undoes=undoes,
            )
        )
        session.flush()


def _lasting(edits: Iterable[EditRow]) -> list[EditRow]:
    """Edits in their order, without those that a later one took back, and without these."""
    found: dict[int, EditRow] = {}
    for edit in edits:
        if found.pop(edit.undoes or 0, None) is None:
            found[edit.id] = edit
    return list(found.values())


def _version(operations: Sequence[Any], path: str) -> Any:
    for operation in operations:
        if isinstance(operation, Set) and operation.path == path:
            return operation.value
    return [o.model_dump(mode="json") for o in operations]


def _now_at(document: dict[str, Any], path: str) -> Any:
    try:
        return value_at(document, path)
    except ZygomorphError:
        return None
