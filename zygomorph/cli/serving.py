"""Commands that make ready and serve: prepare, serve, demo."""

from __future__ import annotations

import argparse
import threading
from pathlib import Path
from typing import TYPE_CHECKING

from zygomorph.cli.exits import DONE
from zygomorph.cli.stored import Failed, open_store
from zygomorph.core.document.study import parse_study

if TYPE_CHECKING:
    from zygomorph.core.kernels.compile_ahead import CompileAhead


def _declare_kernels() -> None:
    """Import every module that has kernels."""
    import importlib
    import pkgutil

    import zygomorph.core
    from zygomorph.render import raster  # noqa: F401  has kernels too

    for module in pkgutil.walk_packages(zygomorph.core.__path__, "zygomorph.core."):
        importlib.import_module(module.name)


def _kernels_aside() -> CompileAhead | None:
    """Begin to compile in processes of their own, unless all kernels are there already."""
    from zygomorph.core.kernels import compiled
    from zygomorph.core.kernels.compile_ahead import CompileAhead

    if compiled.is_complete():
        # Each is loaded when it is called first, which takes some milliseconds.
        return None
    _declare_kernels()

    def say(done: int, total: int) -> None:
        if done == total:
            print("This machine is ready: everything is compiled.", flush=True)

    print("The first start compiles for this machine, aside; it takes a minute or two.", flush=True)
    return CompileAhead(say)


def prepare(arguments: argparse.Namespace) -> int:
    """Compile all kernels, or those that nearly every study needs, with progress."""
    from zygomorph.core.kernels import compiled
    from zygomorph.core.kernels.compile_ahead import compile_first

    _declare_kernels()

    def say(done: int, total: int, name: str) -> None:
        print(f"\rcompiling kernels {done}/{total}  {name:<40}", end="", flush=True)

    compile_some = compile_first if arguments.first else compiled.compile_all
    compile_some(None if arguments.quiet else say)
    if not arguments.quiet:
        print()
    return DONE


def serve(arguments: argparse.Namespace) -> int:
    from zygomorph.api.app import make_app
    from zygomorph.api.security import LOCAL_HOSTS
    from zygomorph.api.server import listening
    from zygomorph.api.service import Service
    from zygomorph.api.thumbnails import of_entry, of_study
    from zygomorph.core.values.entries import definitions
    from zygomorph.jobs.queue.cluster import ClusterSettings

    compiling = _kernels_aside()
    cluster = ClusterSettings(arguments.scheduler)
    service = Service(arguments.data, compiling=compiling, cluster=cluster)
    app = make_app(service, LOCAL_HOSTS | {arguments.host})

    def ask_for_thumbnails() -> None:
        """Asking for a picture's state has it drawn where it is not there yet."""
        for stored in service.studies.all():
            service.thumbnails.state(of_study(stored))
        for sort in ("step", "form"):
            for key in (k for k, d in definitions(sort).items() if not d.needs_file):
                service.thumbnails.state(of_entry(sort, key))

    try:
        server = listening(app, arguments.host, arguments.port)
    except (OSError, ValueError) as error:
        if compiling:
            compiling.close()
        # Of a host that nobody knows the server says only that something is wrong.
        reason = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise Failed(
            f"{arguments.host}:{arguments.port} cannot be served: {reason.rstrip('.')}.",
            "Choose another with --port, or --host 127.0.0.1.",
        ) from error
    print(f"Zygomorph is ready at http://{arguments.host}:{server.effective_port}/", flush=True)
    threading.Thread(target=ask_for_thumbnails, daemon=True).start()
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        service.events.close()
        server.close()
        service.close()
        if compiling:
            compiling.close()
    return DONE


def seed(data: Path) -> int:
    """Store the demo studies that are not stored yet; returns how many were added."""
    from sqlalchemy import select
    from sqlalchemy.orm import Session

    from zygomorph.render.shipped import example_files
    from zygomorph.store.models import StudyRow

    studies, _ = open_store(data)
    with Session(studies.engine) as session:
        known = set(session.scalars(select(StudyRow.name)))
    added = 0
    for path in example_files():
        study = parse_study(path.read_bytes())
        if study.name not in known:
            studies.create(dict(study.document))
            added += 1
    return added


def demo(arguments: argparse.Namespace) -> int:
    added = seed(arguments.data)
    print(f"{added} demo studies added" if added else "The demo studies are there already")
    return serve(arguments)
