"""The SQLite file: opened with write-ahead logging, foreign keys, and migrations applied."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from zygomorph.core.errors import ZygomorphError

MIGRATIONS = Path(__file__).parent / "migrations"


class StoreError(ZygomorphError):
    """The store cannot do what was asked: not there, or the disk does not let it."""


class NotStored(StoreError):
    """Something of that name or id is not stored."""


def _on_connect(connection: Any, _record: Any) -> None:
    # SQLAlchemy starts transactions itself (below), so that writers take the lock at once.
    connection.isolation_level = None
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    # FULL: an edit that was answered survives a power cut, not only a killed process.
    cursor.execute("PRAGMA synchronous=FULL")
    cursor.execute("PRAGMA busy_timeout=10000")
    cursor.close()


def _on_begin(connection: Connection) -> None:
    # A writer takes the lock at once: one that read first and then wanted to write could be
    # refused in the middle.
    writes = connection.get_execution_options().get("writes", False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")


def open_engine(path: Path) -> Engine:
    """Open or make the database file and bring it up to date.

    Raises StoreError where the folder cannot be written or the file is not a database.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        engine = create_engine(f"sqlite:///{path}")
        event.listen(engine, "connect", _on_connect)
        event.listen(engine, "begin", _on_begin)
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
        with engine.execution_options(writes=True).begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    except Exception as error:
        raise StoreError(
            f"The studies in {path} cannot be opened: {error}",
            "Choose another folder with --data, or make this one writable.",
        ) from error
    return engine


@contextmanager
def writing(engine: Engine) -> Iterator[Session]:
    """A transaction that is committed at the end, or leaves everything as it was.

    Raises StoreError where the disk is full or the file cannot be written.
    """
    try:
        with (
            Session(engine.execution_options(writes=True), expire_on_commit=False) as session,
            session.begin(),
        ):
            yield session
    except OperationalError as error:
        reason = str(error.orig)
        if "full" in reason:
            raise StoreError(
                "The disk is full, so the change was not stored. Nothing else was lost.",
                "Make room on the disk and try again.",
            ) from error
        raise StoreError(
            f"The change could not be stored: {reason}.", "Nothing else was lost; try again."
        ) from error
