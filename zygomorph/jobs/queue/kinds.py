"""How many units each kind of job has, which files these have, and how its product is made."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.formats.exr import read_exr
from zygomorph.core.formats.names import safe_name
from zygomorph.core.formats.read import read_here
from zygomorph.core.formats.read_in_process import read_mesh
from zygomorph.jobs.checked_zip import checked_zip
from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.pictures.encode import pack_sequence
from zygomorph.jobs.pictures.product import Product, make_product
from zygomorph.jobs.queue.clip import make_clip
from zygomorph.jobs.queue.folder import JobFolder
from zygomorph.jobs.queue.layer_sequences import pack_layers
from zygomorph.jobs.queue.making import opened, with_camera
from zygomorph.jobs.queue.orders import WHOLE, ClipOrder, FinalOrder, MeshOrder, Order
from zygomorph.jobs.queue.stepping import SavedStates, stateful_pieces
from zygomorph.jobs.queue.trails import draw_trails

PRODUCT = "product"
Report = Callable[[float, str], None]


def label_of(study: Study, order: Order) -> str:
    if isinstance(order, FinalOrder):
        return f"{study.name}, final, as {WORDS.get(order.kind, order.kind)}"
    if isinstance(order, ClipOrder):
        return f"{study.name}, made before, as {WORDS[order.kind]}"
    return f"{study.name} as {WORDS.get(order.kind, order.kind.upper())}"


WORDS = {
    "mp4": "MP4",
    "webm": "WebM",
    "av1": "AV1",
    "png": "PNG sequence",
    "exr": "EXR sequence",
    "still": "still",
    "gif": "GIF",
    "webp": "WebP",
    "clip-page": "web page with the clip",
    "model-page": "web page with the model",
    "cache": "simulation cache",
    "sheet": "contact sheet",
    "seam": "seam",
}


def count_of(order: Order, study: Study) -> int:
    """Number of units; 0 for a clip, whose pictures are there already.

    Raises ZygomorphError if the order cannot be made.
    """
    if isinstance(order, FinalOrder):
        order.check()
        return len(order.drawn_times(study.loop))
    if isinstance(order, ClipOrder):
        order.check()
        return 0
    if order.kind in WHOLE:
        return 1
    if order.kind == "cache" and not stateful_pieces(study, order.final):
        raise ZygomorphError(
            "This study has no system and no memory mask, so there is nothing to cache.",
            "Springs, ripple tanks, swarms and memory layers of masks have states.",
        )
    first, last = order.frames
    return last - first + 1


def endings_of(order: Order) -> tuple[str, ...]:
    """File extensions of each unit."""
    if isinstance(order, FinalOrder) and order.keeps_light:
        return ("png", "exr")
    if isinstance(order, FinalOrder | ClipOrder):
        return ("png",)
    return {"glb": ("glb",), "usd": ("usdc",), "model-page": ("html",)}.get(order.kind, ("zip",))


def finish(
    job: JobFolder,
    study: Study,
    order: Order,
    report: Report,
    stopped: Callable[[], bool],
    keep: Callable[[HandedStates], int] | None = None,
) -> Product:
    """Make the product of a job whose units are all there, and check it by reading it back.

    keep : stores the states of a simulation cache; returns their size in bytes

    Raises ZygomorphError if the product is not what it should be; Cancelled; OSError.
    """
    if isinstance(order, FinalOrder):
        count = job.record.total - len(order.trail_times)
        files = [job.frame(k, "png") for k in range(count)]
        if order.trailed:
            light = [job.frame(k, "exr") for k in range(job.record.total)]
            seen = with_camera(*opened(job.bundle), order.camera)
            draw_trails(seen, order, light, files, report, stopped)
        if order.layered:
            return _layered(job, study, order, files, report, stopped)
        return make_product(job.path, PRODUCT, study, order, files, report, stopped)
    if isinstance(order, ClipOrder):
        files = [job.frame(k, "png") for k in order.numbers(job.record.total)]
        return make_clip(
            job.path, PRODUCT, safe_name(study.name), order, files, report, stopped, study.name
        )
    if order.kind == "cache":
        return _cached(job, report, stopped, keep)
    stem = safe_name(study.name)
    (ending,) = endings_of(order)
    files = [job.frame(k, ending) for k in range(job.record.total)]
    if ending == "zip":
        path = job.path / f"{PRODUCT}.zip"
        _join(path, files, report, stopped)
        return Product(path, f"{stem}-{order.kind}.zip", {})
    if ending == "html":
        return Product(files[0], f"{stem}.html", {})
    read = read_here if ending == "glb" else read_mesh
    read(files[0].read_bytes(), f"check.{ending}")
    return Product(files[0], f"{stem}.{ending}", {})


def _cached(
    job: JobFolder,
    report: Report,
    stopped: Callable[[], bool],
    keep: Callable[[HandedStates], int] | None,
) -> Product:
    """Store the states where evaluators of this machine find them; there is no file to download."""
    saved = SavedStates(job.path, job.record.total)
    if keep is None:
        raise ZygomorphError("Nothing is kept here.", "Order it where the studies are.")
    size = 0
    for number, states in enumerate(saved.all()):
        if stopped():
            raise Cancelled
        report(number / max(job.record.total, 1), "keeping")
        size += keep(states)
    told = {"frames": job.record.total, "bytes": size}
    path = job.path / f"{PRODUCT}.json"
    write_whole(path, json.dumps(told).encode())
    saved.clear()
    return Product(path, "", told)


def _layered(
    job: JobFolder,
    study: Study,
    order: FinalOrder,
    pictures: Sequence[Path],
    report: Report,
    stopped: Callable[[], bool],
) -> Product:
    stem = safe_name(study.name)
    path = job.path / f"{PRODUCT}.zip"
    files = [job.frame(k, "exr") for k in range(len(pictures))]
    facts: dict[str, Any] = {"width": order.size[0], "height": order.size[1]}
    if order.kind == "exr":
        layers = read_exr(files[0])
        if layers[""].shape[1::-1] != order.size:
            raise ZygomorphError("The EXR files have another size.", "Make them again.")
        report(0.0, "packing")
        pack_sequence(path, files, stem, "exr")
        facts |= {"pictures": len(files), "layers": len(layers) - 1}
        return Product(path, f"{stem}-exr.zip", facts)
    scene = plan_scene(study, order.final)
    finishes = [scene.at(np.array([at])).finish for at in order.times(study.loop)]
    facts |= pack_layers(path, stem, pictures, files, finishes, report, stopped)
    return Product(path, f"{stem}-png.zip", facts)


def _join(path: Path, parts: Sequence[Path], report: Report, stopped: Callable[[], bool]) -> None:
    """Join several ZIPs into one."""
    with checked_zip(path, zipfile.ZIP_DEFLATED) as archive:
        for number, part in enumerate(parts):
            if stopped():
                raise Cancelled
            report(number / len(parts), "packing")
            with zipfile.ZipFile(part) as own:
                for entry in own.infolist():
                    archive.writestr(entry, own.read(entry), zipfile.ZIP_DEFLATED, 1)


def details_of(order: Order, facts: Sequence[dict[str, Any]], product: Product) -> list[Any]:
    """What the interface tells of a job that is done. facts : of each unit"""
    if isinstance(order, ClipOrder):
        return [product.facts]
    if isinstance(order, MeshOrder) and order.kind == "cache":
        return [product.facts]
    if isinstance(order, MeshOrder):
        return [each for own in facts for each in own.get("details", [])]
    brightest = max((own.get("too_bright", 0.0) for own in facts), default=0.0)
    told = dict(product.facts)
    if brightest > 0.02:
        told["too_bright"] = brightest
    return [told]
