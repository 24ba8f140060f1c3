"""Delivering by the queue: final pictures, and meshes that a cluster makes.

The job lies beside what it makes until that is done, so that it can go on after it was stopped.
"""

from __future__ import annotations

import argparse
import shutil
import sys
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.cli.exits import DONE
from zygomorph.cli.stored import Failed, open_store
from zygomorph.core.document.files import digests_in
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError

if TYPE_CHECKING:
    from zygomorph.jobs.queue.active_job import ActiveJob
    from zygomorph.jobs.queue.orders import FinalOrder, Order
    from zygomorph.jobs.queue.queue import Queue

LOOKED_EVERY_S = 0.1
DEFAULT_SAMPLES = 64


def job_folder(out: Path) -> Path:
    """Where the job of an output is kept while it is not done."""
    return out.with_name(out.name + ".job")


def final_order(arguments: argparse.Namespace, study: Study, frames: range) -> FinalOrder:
    """What the command line asks for. Raises ZygomorphError."""
    from zygomorph.cli.pictures import camera_named, common_order
    from zygomorph.jobs.queue.orders import FinalOrder
    from zygomorph.jobs.queue.trails import with_trails
    from zygomorph.render.final.wanted_masks import all_masks

    layers = [name.strip() for name in arguments.layers.split(",") if name.strip()]
    order = FinalOrder(
        **common_order(arguments, frames, arguments.samples or DEFAULT_SAMPLES),
        camera=camera_named(study, arguments.camera),
        bounces=arguments.bounces,
        clamp=arguments.clamp,
        noise_removal=not arguments.keep_noise,
        layers=tuple(name for name in layers if name != "masks"),
        masks=all_masks(study) if "masks" in layers else (),
    )
    return with_trails(order, study)


def deliver_by_queue(arguments: argparse.Namespace, study: Study, order: Order) -> int:
    """Make it on this machine or a cluster, with progress, and put it in its place."""
    from zygomorph.core.formats.bundle import write_bundle
    from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
    from zygomorph.jobs.queue.kinds import count_of
    from zygomorph.jobs.queue.queue import Queue

    out: Path = arguments.out
    folder = job_folder(out)
    if folder.exists() and not arguments.resume:
        raise ZygomorphError(
            f"A job for {out} was not finished: {folder}.",
            "Add --resume to go on with it, or remove its folder to begin anew.",
        )
    _, assets = open_store(arguments.data)
    bundle = write_bundle(study.document, assets.bundled(digests_in(study.document)))
    settings = ClusterSettings(arguments.scheduler, states=arguments.data / "states")
    if arguments.scheduler is None and count_of(order, study) == 1:
        # Of one frame all cores are this process's own.
        settings = replace(settings, workers=1, apart=False)
    queue = Queue(folder, Cluster(settings))
    try:
        job_id = _begun(queue, bundle, order)
        _follow(queue, job_id)
        made, _ = queue.product(job_id)
        told = queue.get(job_id).describe()
        put(made, out, told["queued"]["kind"])
    except KeyboardInterrupt:
        queue.close()
        print(f"\nWhat is done is kept in {folder}; --resume goes on with it.", file=sys.stderr)
        raise
    finally:
        queue.close()
    shutil.rmtree(folder, ignore_errors=True)
    print(f"{out}: {words(told)}")
    return DONE


def _begun(queue: Queue, bundle: bytes, order: Order) -> str:
    """The id of the job: a new one, or the one that is there."""
    from zygomorph.jobs.queue.orders import as_data

    known = queue.all()
    if not known:
        return str(queue.add(bundle, order)["id"])
    job = known[0]
    same = job.record.order == _plain(as_data(order)) and job.folder.bundle == bundle
    if not same:
        raise ZygomorphError(
            "The job that is there is of another study, or was ordered otherwise.",
            "Give the same study and options, or remove its folder to begin anew.",
        )
    queue.resume(job.record.id)
    return job.record.id


def _plain(data: Any) -> Any:
    """As it is after it was kept as JSON."""
    if isinstance(data, Mapping):
        return {key: _plain(value) for key, value in data.items()}
    return [_plain(each) for each in data] if isinstance(data, list | tuple) else data


def _follow(queue: Queue, job_id: str) -> None:
    """Show progress until the job is over. Raises Failed where it fails or stands still."""
    job = queue.get(job_id)
    progress = _bar if sys.stderr.isatty() else _lines
    with progress(job) as show:
        while job.record.state in ("waiting", "running"):
            show(len(job.done), job.waits_for or job.record.what)
            time.sleep(LOOKED_EVERY_S)
        show(len(job.done), "")
    if job.record.state != "done":
        raise Failed(job.record.message or "It was stopped.", job.record.hint)


@contextmanager
def _bar(job: ActiveJob) -> Iterator[Callable[[int, str], None]]:
    """A bar that is redrawn in place, for a terminal."""
    from tqdm import tqdm

    unit = _unit(job)
    with tqdm(total=job.record.total, initial=len(job.done), unit=unit, file=sys.stderr) as bar:

        def show(done: int, what: str) -> None:
            bar.n = done
            bar.set_postfix_str(what, refresh=True)

        yield show


@contextmanager
def _lines(job: ActiveJob) -> Iterator[Callable[[int, str], None]]:
    """Lines for a log file: each new reason to wait, and each tenth of the job that is done."""
    total, said_of, waited_for = job.record.total, len(job.done), ""

    def show(done: int, what: str) -> None:
        nonlocal said_of, waited_for
        if what != waited_for:
            waited_for = what
            if what:
                print(what, file=sys.stderr, flush=True)
        if done * 10 // total > said_of * 10 // total:
            said_of = done
            print(f"{done} of {total} {_unit(job)}s", file=sys.stderr, flush=True)

    yield show


def _unit(job: ActiveJob) -> str:
    return "frame" if job.record.total > 1 else "file"


def put(made: Path, out: Path, kind: str) -> None:
    """Where it was asked for: a sequence as files in a folder, unless a ZIP is asked for."""
    from zygomorph.core.formats.deliver import SEQUENCES

    if kind in ("png", "exr", *SEQUENCES) and out.suffix.lower() != ".zip":
        out.mkdir(parents=True, exist_ok=True)
        shutil.unpack_archive(made, out, "zip")
        return
    partial = out.with_name(out.name + ".part")
    try:
        shutil.copyfile(made, partial)
        partial.replace(out)
    finally:
        partial.unlink(missing_ok=True)


def words(told: Mapping[str, Any]) -> str:
    """What is said of something that is done."""
    facts = told["details"][0] if told["details"] else {}
    said = []
    if "width" in facts:
        said.append(f"{facts['width']} × {facts['height']}")
    if "pictures" in facts:
        said.append(f"{facts['pictures']} pictures")
    if "rate" in facts:
        said.append(f"{facts['rate']:g} a second, {facts['seconds']:g} s")
    if "largest" in facts:
        said.append(f"frame 0 and F differ by {facts['largest']} of 255 at most")
        said.append(f"{facts['mean']:.3f} in the mean")
    return ", ".join([*said, f"{told['size']:,} bytes"])
