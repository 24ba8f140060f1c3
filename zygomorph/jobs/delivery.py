"""Delivery as a job: the file is written aside, checked, and only then called done."""

from __future__ import annotations

import os
import shutil
import zipfile
from dataclasses import dataclass
from pathlib import Path

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.deliver import SEQUENCES, deliver_sequence
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.deliver_usd import deliver_usd
from zygomorph.core.formats.gltf_numbers import Numbers
from zygomorph.core.formats.placed_copies import CopiesAs
from zygomorph.core.formats.read import read_here
from zygomorph.core.formats.read_in_process import read_mesh
from zygomorph.jobs.runner import Job, Jobs, Work


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all."""
    partial = path.with_name(path.name + ".part")
    try:
        with partial.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        partial.replace(path)
    except BaseException:
        partial.unlink(missing_ok=True)
        raise


def clear_left(folder: Path) -> None:
    """Remove what deliveries of an earlier run left: nobody knows their jobs any more."""
    for path in folder.glob("*") if folder.is_dir() else ():
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)


def safe_name(name: str) -> str:
    """A file name of plain letters."""
    plain = "".join(c if c.isalnum() and c.isascii() else "-" for c in name.lower())
    return "-".join(part for part in plain.split("-") if part) or "study"


@dataclass(frozen=True)
class Options:
    """What is chosen for a delivery; of those that a kind has no use for nothing is taken.

    frames : of a sequence; tolerance, numbers, copies_as : of a GLB; normals, colours : of USD
    """

    kind: str
    frames: range
    final: bool = False
    tolerance: float | None = None
    numbers: Numbers = "plain"
    copies_as: CopiesAs = "nodes"
    normals: bool = False
    colours: bool = True


def delivery(
    jobs: Jobs, study: Study, evaluator: Evaluator, folder: Path, options: Options
) -> Work:
    """The work of delivering a study into ``folder``; its size and error are told
    when it is done, before anybody takes the file away."""

    kind, final = options.kind, options.final

    def work(job: Job) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        stem = safe_name(study.name)
        report = jobs.progress(job)
        if kind == "glb":
            made = deliver_glb(
                study,
                evaluator,
                final=final,
                tolerance=options.tolerance,
                numbers=options.numbers,
                copies_as=options.copies_as,
                progress=report,
                cancelled=job.stop.is_set,
            )
            read_here(made.data, "check.glb")
            job.filename, job.path = f"{stem}.glb", folder / f"{job.id}.glb"
            write_whole(job.path, made.data)
            job.size, job.details = len(made.data), made.details
            return
        if kind == "usd":
            data = deliver_usd(
                study,
                evaluator,
                final=final,
                normals=options.normals,
                colours=options.colours,
                progress=report,
                cancelled=job.stop.is_set,
            )
            read_mesh(data, "check.usdc")
            job.filename, job.path = f"{stem}.usdc", folder / f"{job.id}.usdc"
            write_whole(job.path, data)
            job.size = len(data)
            return
        if kind not in SEQUENCES:
            raise ZygomorphError(
                f"{kind!r} is not a kind of delivery.", "Use glb, usd, obj, ply or stl."
            )
        path = folder / f"{job.id}.zip"
        partial = path.with_name(path.name + ".part")
        try:
            with zipfile.ZipFile(partial, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
                count = 0
                for name, data in deliver_sequence(
                    study,
                    evaluator,
                    kind,
                    options.frames,
                    final=final,
                    progress=report,
                    cancelled=job.stop.is_set,
                ):
                    archive.writestr(name, data)
                    count += 1
            if job.stop.is_set():
                raise Cancelled
            with zipfile.ZipFile(partial) as archive:
                if archive.testzip() is not None or len(archive.namelist()) != count:
                    raise ZygomorphError("The archive could not be read back.", "Try again.")
            partial.replace(path)
        finally:
            partial.unlink(missing_ok=True)
        job.filename, job.path, job.size = f"{stem}-{kind}.zip", path, path.stat().st_size

    return work
