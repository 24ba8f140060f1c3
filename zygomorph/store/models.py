"""Tables: studies, every edit of them, files that were brought in, presets and gradients."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, LargeBinary, String
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


def now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


class Base(DeclarativeBase):
    pass


class StudyRow(Base):
    """A study as it is now. ``removed`` studies are kept, so that removing can be undone."""

    __tablename__ = "studies"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    name: Mapped[str] = mapped_column(String(120), index=True)
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(default=0)
    removed: Mapped[bool] = mapped_column(default=False)
    created: Mapped[str] = mapped_column(String(40), default=now)
    changed: Mapped[str] = mapped_column(String(40), default=now)


class EditRow(Base):
    """One accepted edit; undo and redo are edits too.

    undoes : the edit that this one takes back (an undo of an edit, or a redo of an undo)
    undone : whether an edit has been taken back
    """

    __tablename__ = "edits"
    __table_args__ = (Index("ix_edits_study_revision", "study_id", "revision", unique=True),)

    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[str] = mapped_column(ForeignKey("studies.id", ondelete="CASCADE"))
    revision: Mapped[int]
    window: Mapped[str] = mapped_column(String(80))
    kind: Mapped[str] = mapped_column(String(8))
    label: Mapped[str] = mapped_column(String(200))
    operations: Mapped[list[Any]] = mapped_column(JSON)
    inverse: Mapped[list[Any]] = mapped_column(JSON)
    undoes: Mapped[int | None] = mapped_column(ForeignKey("edits.id"))
    undone: Mapped[bool] = mapped_column(default=False)
    made: Mapped[str] = mapped_column(String(40), default=now)


class AssetRow(Base):
    """A file that was brought in, kept under the SHA-256 of its bytes."""

    __tablename__ = "assets"

    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    filename: Mapped[str] = mapped_column(String(255))
    data: Mapped[bytes] = mapped_column(LargeBinary)
    report: Mapped[dict[str, Any]] = mapped_column(JSON)
    made: Mapped[str] = mapped_column(String(40), default=now)


class PresetRow(Base):
    """Steps that are kept to be used again. ``removed`` ones can be brought back."""

    __tablename__ = "presets"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    removed: Mapped[bool] = mapped_column(default=False)
    made: Mapped[str] = mapped_column(String(40), default=now)
    changed: Mapped[str] = mapped_column(String(40), default=now)


class GradientRow(Base):
    """A gradient of one's own, which all studies can take."""

    __tablename__ = "gradients"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    name: Mapped[str] = mapped_column(String(60))
    gradient: Mapped[dict[str, Any]] = mapped_column(JSON)
    made: Mapped[str] = mapped_column(String(40), default=now)
