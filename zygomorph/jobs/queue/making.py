"""Makes the files of one unit of a job from its bundle."""

from __future__ import annotations

import hashlib
import io
import os
import threading
import zipfile
from collections import OrderedDict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.bundle import EPOCH
from zygomorph.core.geometry.view import View
from zygomorph.core.kernels.cores import CORES
from zygomorph.jobs.queue.orders import FinalOrder, MeshOrder, Order
from zygomorph.store.bundled import open_bundle
from zygomorph.store.state_shelf import StateShelf

if TYPE_CHECKING:
    from zygomorph.render.final.layers import Moment
    from zygomorph.render.final.picture import Picture

# Studies that a worker keeps open, with their evaluators' caches.
MOST_OPEN = 2
# Key of a tile's samples in Made.files.
TRACED = "traced"
# Environment variable with the number of cores that a worker uses for one frame; default: all.
CORES_NAMED = "ZYGOMORPH_CORES"
# Environment variable with the folder of simulation caches that a worker reads; default: none.
STATES_NAMED = "ZYGOMORPH_STATES"

_open: OrderedDict[str, tuple[Study, Evaluator]] = OrderedDict()
_lock = threading.Lock()

Cancelled = Callable[[], bool]


@dataclass
class Made:
    """What a task returns.

    files : contents by file extension
    facts : what the job's details tell of this unit
    error : message and hint if the input was wrong; ``files`` is empty then
    seconds : that it took
    program : version of the worker's program; if it is not the wanted one, nothing was made
    worker : address of the worker
    """

    files: dict[str, bytes] = field(default_factory=dict)
    facts: dict[str, Any] = field(default_factory=dict)
    error: tuple[str, str] | None = None
    seconds: float = 0.0
    program: str = ""
    worker: str = ""


def opened(bundle: bytes) -> tuple[Study, Evaluator]:
    """The study of a bundle and an evaluator that knows its files; both are cached by content."""
    digest = hashlib.blake2b(bundle, digest_size=16).hexdigest()
    with _lock:
        known = _open.get(digest)
        if known is None:
            folder = os.environ.get(STATES_NAMED)
            shelf = StateShelf(Path(folder)) if folder else None
            known = open_bundle(bundle, shelf=shelf)
            _open[digest] = known
        _open.move_to_end(digest)
        while len(_open) > MOST_OPEN:
            _open.popitem(last=False)
    return known


def files_of_unit(
    study: Study, evaluator: Evaluator, order: Order, number: int, cancelled: Cancelled
) -> Made:
    """The files of a whole unit. Raises what evaluating raises, and Cancelled."""
    if isinstance(order, FinalOrder):
        return _picture(study, evaluator, order, number, cancelled)
    assert isinstance(order, MeshOrder)  # clips have no units
    return _meshes(study, evaluator, order, number, cancelled)


def traced_rows(
    study: Study,
    evaluator: Evaluator,
    order: FinalOrder,
    number: int,
    rows: range,
    cancelled: Cancelled,
) -> Made:
    """The samples of some rows of a frame, before noise removal."""
    from zygomorph.render.final.picture import trace

    moment = _moment(study, evaluator, order, number)
    return Made({TRACED: trace(moment, rows, cancelled=cancelled).packed()})


def picture_of_tiles(bundle: bytes, order: FinalOrder, number: int, parts: Sequence[bytes]) -> Made:
    """A frame from the samples of all its tiles, top to bottom.

    Raises ZygomorphError, and ValueError or KeyError if a tile is damaged.
    """
    from zygomorph.render.final.picture import Raw, finished

    study, evaluator = opened(bundle)
    moment = _moment(study, evaluator, order, number)
    raw = Raw.below_each_other([Raw.unpacked(part) for part in parts])
    drawn = finished(moment.study, moment.frame, order.final, order.settings, raw)
    return _encoded(drawn, order)


def with_camera(study: Study, evaluator: Evaluator, camera: str | None) -> Study:
    """The study with one of its other cameras as the camera that it is seen through."""
    if camera is None:
        return study
    document = check_document({**study.document, "camera": camera}).document
    return evaluator.with_geometry(replace(study, document=document))


def _picture(
    study: Study, evaluator: Evaluator, order: FinalOrder, number: int, cancelled: Cancelled
) -> Made:
    from zygomorph.render.final.picture import finished, trace

    moment = _moment(study, evaluator, order, number)
    raw = trace(moment, None, cancelled=cancelled)
    drawn = finished(moment.study, moment.frame, order.final, order.settings, raw)
    return _encoded(drawn, order)


def _moment(study: Study, evaluator: Evaluator, order: FinalOrder, number: int) -> Moment:
    from zygomorph.render.final.engine import use_threads
    from zygomorph.render.final.layers import Moment

    use_threads(int(os.environ.get(CORES_NAMED, CORES)))
    shown = with_camera(study, evaluator, order.camera)
    frame = order.drawn_times(study.loop)[number]
    return Moment(shown, evaluator, frame, order.settings, order.final, _view_of(order))


def _view_of(order: FinalOrder) -> View | None:
    """The ordered view if it is not that of a camera."""
    eye = order.eye
    if eye is None:
        return None
    position, target = np.array(eye.position, float), np.array(eye.target, float)
    return View(position, target, aspect=order.size[0] / order.size[1], angle=eye.angle)


def _encoded(drawn: Picture, order: FinalOrder) -> Made:
    """The picture as PNG, and its light and layers as EXR if the order needs them."""
    from zygomorph.core.formats.stills import write_png
    from zygomorph.jobs.pictures.task import too_bright
    from zygomorph.render.final.layers import exr_of

    picture = drawn.shown(order.transparent)
    out = io.BytesIO()
    write_png(out, picture, quick=order.kind not in ("png", "still"))
    files = {"png": out.getvalue()}
    if order.keeps_light:
        files["exr"] = exr_of(drawn.all_layers())
    return Made(files, {"too_bright": too_bright(_with_alpha(picture))})


def _with_alpha(picture: np.ndarray) -> np.ndarray:
    """(rows, columns, 4) uint8"""
    if picture.shape[-1] == 4:
        return picture
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])


def _meshes(
    study: Study, evaluator: Evaluator, order: MeshOrder, number: int, cancelled: Cancelled
) -> Made:
    from zygomorph.core.formats.deliver import deliver_sequence
    from zygomorph.core.formats.deliver_glb import deliver_glb
    from zygomorph.core.formats.deliver_usd import deliver_usd
    from zygomorph.core.formats.read import read_here
    from zygomorph.jobs.pages.make import page_of_model

    common: dict[str, Any] = {"final": order.final, "piece": order.piece, "cancelled": cancelled}
    if order.kind in ("glb", "model-page"):
        made = deliver_glb(
            study,
            evaluator,
            tolerance=order.tolerance,
            # The viewer of a page reads the encodings that take less room.
            numbers=order.numbers if order.kind == "glb" else "compact",
            copies_as=order.copies_as if order.kind == "glb" else "instances",
            **common,
        )
        read_here(made.data, "check.glb")
        if order.kind == "model-page":
            return Made({"html": page_of_model(study, made.data)}, {"details": made.details})
        return Made({"glb": made.data}, {"details": made.details})
    if order.kind == "usd":
        common |= {"normals": order.normals, "colours": order.colours}
        return Made({"usdc": deliver_usd(study, evaluator, **common)})
    frame = order.frames[0] + number
    one = range(frame, frame + 1)
    files = deliver_sequence(study, evaluator, order.kind, one, last=order.frames[1], **common)
    return Made({"zip": packed(files)})


def packed(files: Iterable[tuple[str, bytes]]) -> bytes:
    """Files (name, contents) as a ZIP; the same files always give the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, data in files:
            entry = zipfile.ZipInfo(name, EPOCH)
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)
    return out.getvalue()
