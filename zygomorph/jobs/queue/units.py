"""What workers do: one unit of a job, from the study with all it uses to the bytes of its files.

Nothing here knows of a server or its folders: a worker may be on any machine. Errors of the input
are given back as data, since other sorts of errors are the cluster's.
"""

from __future__ import annotations

import hashlib
import io
import os
import threading
import time
import zipfile
from collections import OrderedDict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from zygomorph.core.cancelling import cancelled_when
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import Cancelled, StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.bundle import EPOCH
from zygomorph.core.geometry.view import View
from zygomorph.core.kernels.cores import CORES
from zygomorph.core.program import program_digest
from zygomorph.jobs.queue.orders import ClipOrder, FinalOrder, MeshOrder, from_data
from zygomorph.jobs.queue.walking import take, walk
from zygomorph.store.bundled import open_bundle

if TYPE_CHECKING:
    from zygomorph.render.final.layers import Moment
    from zygomorph.render.final.picture import Picture

# Studies that a worker keeps open, with what it has evaluated of them.
MOST_OPEN = 2
# The name of what was traced, before it is put together.
TRACED = "traced"
_open: OrderedDict[str, tuple[Study, Evaluator]] = OrderedDict()
_lock = threading.Lock()
_called_off: set[str] = set()
# How many cores a worker takes for a frame; all where nothing is said.
CORES_NAMED = "ZYGOMORPH_CORES"


@dataclass
class Made:
    """files : by their endings; facts : what is told of them
    error : message and hint of what is wrong with the input, instead
    program : of the worker; where it is not the one that was wanted, nothing was made
    worker : its address
    """

    files: dict[str, bytes] = field(default_factory=dict)
    facts: dict[str, Any] = field(default_factory=dict)
    error: tuple[str, str] | None = None
    seconds: float = 0.0
    program: str = ""
    worker: str = ""


def program() -> str:
    """Which program, and which renderer, makes the bytes of this process."""
    from zygomorph.render.final.engine import llvm_library

    renderer = "llvm" if llvm_library() else "scalar"
    return f"{_version()} ({program_digest()}, {renderer})"


def _version() -> str:
    from importlib.metadata import version

    return version("zygomorph")


def call_off(run: str) -> None:
    """Have this worker leave what it does for a run of a job."""
    _called_off.add(run)


def kept(bundle: bytes) -> bytes:
    """A bundle as a task of its own: what depends on it has it sent once a worker, and it is there
    again when the worker that had it has died."""
    return bundle


def work(
    wanted: str,
    run: str,
    bundle: bytes,
    order: Mapping[str, Any],
    number: int,
    states: bytes | None = None,
) -> Made:
    """Make one unit.

    wanted : the program whose bytes these are to be; another one makes nothing
    run : of the job, by which it can be called off
    states : of what remembers, at this unit
    """

    def make(study: Study, evaluator: Evaluator) -> Made:
        return _make(study, evaluator, order, number, lambda: run in _called_off)

    return _told(wanted, bundle, states, make)


def tile(
    wanted: str,
    run: str,
    bundle: bytes,
    order: Mapping[str, Any],
    numbers: tuple[int, int, int],
    states: bytes | None = None,
) -> Made:
    """Trace some rows of a frame. numbers : its own, the first row, and the one after the last"""

    def make(study: Study, evaluator: Evaluator) -> Made:
        from zygomorph.render.final.picture import trace

        found = from_data(order)
        assert isinstance(found, FinalOrder)  # only pictures are cut into tiles
        number, first, end = numbers
        moment = _moment(study, evaluator, found, number)
        raw = trace(moment, range(first, end), cancelled=lambda: run in _called_off)
        return Made({TRACED: raw.packed()})

    return _told(wanted, bundle, states, make)


def joined(bundle: bytes, order: FinalOrder, number: int, parts: Sequence[bytes]) -> Made:
    """A frame of all its tiles, put together where the queue is.

    Raises ZygomorphError, ValueError where a tile is damaged.
    """
    from zygomorph.render.final.picture import Raw, finished

    study, evaluator = opened(bundle)
    moment = _moment(study, evaluator, order, number)
    raw = Raw.below_each_other([Raw.unpacked(part) for part in parts])
    drawn = finished(moment.study, moment.frame, order.final, order.settings, raw)
    return _encoded(drawn, order)


def step(
    wanted: str,
    run: str,
    bundle: bytes,
    order: Mapping[str, Any],
    numbers: tuple[int, int],
    states: bytes | None = None,
) -> Made:
    """Step what remembers through some units, the first and the one after the last; its states are
    files by the numbers of the units.

    states : of the last unit before them whose states are known
    """

    def make(study: Study, evaluator: Evaluator) -> Made:
        found = from_data(order)
        assert not isinstance(found, ClipOrder)  # clips have nothing to step
        files = {}
        with cancelled_when(lambda: run in _called_off):
            for number, made in walk(study, evaluator, found, range(*numbers)):
                files[str(number)] = made
        return Made(files)

    return _told(wanted, bundle, states, make)


def _told(
    wanted: str,
    bundle: bytes,
    states: bytes | None,
    make: Callable[[Study, Evaluator], Made],
) -> Made:
    """What is made of a study, with what it took; errors of the input are told."""
    started = time.perf_counter()
    own = program()
    if own != wanted:
        return Made(program=own, worker=_address())
    try:
        study, evaluator = opened(bundle)
        if states is not None:
            take(evaluator, states)
        found = make(study, evaluator)
    except StepError as error:
        found = Made(error=(f"Step {error.step_id}: {error.message}", error.hint))
    except ZygomorphError as error:
        found = Made(error=(error.message, error.hint))
    except MemoryError:
        found = Made(
            error=(
                "There is not enough memory for it.",
                "Choose a smaller size or draft quality.",
            )
        )
    except Cancelled:
        found = Made(error=("It was called off.", ""))
    seconds = time.perf_counter() - started
    return replace(found, seconds=seconds, program=own, worker=_address())


def _address() -> str:
    """Of the worker that this runs in; "" outside of one."""
    from distributed import get_worker

    try:
        return str(get_worker().address)
    except ValueError:
        return ""


def opened(bundle: bytes) -> tuple[Study, Evaluator]:
    """The study of a bundle and an evaluator with its files, which are kept open."""
    digest = hashlib.blake2b(bundle, digest_size=16).hexdigest()
    with _lock:
        known = _open.get(digest)
        if known is None:
            known = open_bundle(bundle)
            _open[digest] = known
        _open.move_to_end(digest)
        while len(_open) > MOST_OPEN:
            _open.popitem(last=False)
    return known


def _make(
    study: Study,
    evaluator: Evaluator,
    order: Mapping[str, Any],
    number: int,
    cancelled: Callable[[], bool],
) -> Made:
    found = from_data(order)
    if isinstance(found, FinalOrder):
        return _picture(study, evaluator, found, number, cancelled)
    assert isinstance(found, MeshOrder)  # clips have no units
    return _meshes(study, evaluator, found, number, cancelled)


def through(study: Study, evaluator: Evaluator, camera: str | None) -> Study:
    """The study with one of its cameras as its own."""
    if camera is None:
        return study
    document = check_document({**study.document, "camera": camera}).document
    return evaluator.with_geometry(replace(study, document=document))


def eye_of(order: FinalOrder) -> View | None:
    """The view that is no camera's, if one was asked for."""
    eye = order.eye
    if eye is None:
        return None
    position, target = np.array(eye.position, float), np.array(eye.target, float)
    return View(position, target, aspect=order.size[0] / order.size[1], angle=eye.angle)


def _picture(
    study: Study,
    evaluator: Evaluator,
    order: FinalOrder,
    number: int,
    cancelled: Callable[[], bool],
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
    shown = through(study, evaluator, order.camera)
    frame = order.times(study.loop)[number]
    return Moment(shown, evaluator, frame, order.settings, order.final, eye_of(order))


def _encoded(drawn: Picture, order: FinalOrder) -> Made:
    from zygomorph.core.formats.stills import write_png
    from zygomorph.jobs.pictures.task import too_bright
    from zygomorph.render.final.layers import exr_of

    picture = drawn.shown(order.transparent)
    out = io.BytesIO()
    write_png(out, picture, quick=order.kind not in ("png", "still"))
    whole = picture if picture.shape[-1] == 4 else np.dstack([picture, _full(picture)])
    files = {"png": out.getvalue()}
    if order.keeps_light:
        files["exr"] = exr_of(drawn.all_layers())
    return Made(files, {"too_bright": too_bright(whole)})


def _full(picture: np.ndarray) -> np.ndarray:
    return np.full(picture.shape[:2], 255, np.uint8)


def _meshes(
    study: Study,
    evaluator: Evaluator,
    order: MeshOrder,
    number: int,
    cancelled: Callable[[], bool],
) -> Made:
    from zygomorph.core.formats.deliver import deliver_sequence
    from zygomorph.core.formats.deliver_glb import deliver_glb
    from zygomorph.core.formats.deliver_usd import deliver_usd
    from zygomorph.core.formats.read import read_here
    from zygomorph.jobs.pages.make import page_of_model

    common: dict[str, Any] = {
        "final": order.final,
        "piece": order.piece,
        "cancelled": cancelled,
    }
    if order.kind in ("glb", "model-page"):
        made = deliver_glb(
            study,
            evaluator,
            tolerance=order.tolerance,
            # The viewer of a page reads what takes less room.
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
    some = range(frame, frame + 1)
    files = deliver_sequence(study, evaluator, order.kind, some, last=order.frames[1], **common)
    return Made({"zip": packed(files)})


def packed(files: Iterable[tuple[str, bytes]]) -> bytes:
    """Files with their names as one ZIP; the same files give the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, data in files:
            entry = zipfile.ZipInfo(name, EPOCH)
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)
    return out.getvalue()
