"""Commands that bring studies in and save them with all they use: import, export."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from pathlib import Path

from zygomorph.cli.exits import DONE, WRONG_INPUT
from zygomorph.cli.stored import open_store
from zygomorph.core.errors import ZygomorphError


def bring_in(arguments: argparse.Namespace) -> int:
    """Bring in files and folders; what is wrong with one does not hold up the others."""
    from zygomorph.store.exchange import Exchange

    studies, _ = open_store(arguments.data)
    exchange = Exchange(studies.engine)
    wrong = 0
    for path in _files(arguments.paths):
        try:
            brought = exchange.bring_in(path.read_bytes(), path.name)
        except (ZygomorphError, OSError) as error:
            print(f"{path}: {error}", file=sys.stderr)
            wrong += 1
            continue
        for each in brought:
            where = path if each.name == path.name else f"{path}, {each.name}"
            if each.study is None:
                print(f"{where}: {each.error}", file=sys.stderr)
                wrong += 1
                continue
            lacks = f"; {len(each.missing)} of its files are nowhere" if each.missing else ""
            print(f"{where}: {each.study.document['name']}{lacks}")
    return WRONG_INPUT if wrong else DONE


def _files(paths: list[Path]) -> Iterator[Path]:
    """Files as they are given, and all studies in folders. Raises ZygomorphError where there is
    nothing."""
    from zygomorph.core.formats.collection import is_study_file

    for path in paths:
        if not path.exists():
            raise ZygomorphError(f"There is no {path}.", "Give files or folders that are there.")
        if path.is_dir():
            found = [each for each in sorted(path.rglob("*")) if each.is_file()]
            yield from (p for p in found if is_study_file(str(p.relative_to(path))))
        else:
            yield path


def export(arguments: argparse.Namespace) -> int:
    """Save studies into a folder, each with all it uses as one ZIP."""
    from zygomorph.core.formats.collection import free_name
    from zygomorph.core.formats.names import safe_name
    from zygomorph.jobs.delivery import write_whole
    from zygomorph.store.exchange import Exchange

    studies, _ = open_store(arguments.data)
    exchange = Exchange(studies.engine)
    chosen = [studies.find(name) for name in arguments.studies] or studies.all()
    if not chosen:
        raise ZygomorphError("There is no study to save.", "Begin one, or give another --data.")
    arguments.folder.mkdir(parents=True, exist_ok=True)
    taken: set[str] = set()
    for stored in chosen:
        name = free_name(f"{safe_name(stored.document['name'])}.zip", taken)
        data = exchange.bundle(stored.document)
        write_whole(arguments.folder / name, data)
        print(f"{arguments.folder / name}: {len(data):,} bytes")
    return DONE
