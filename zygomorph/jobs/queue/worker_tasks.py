"""The functions that Dask runs on workers.

A worker may be on any machine, so nothing here reads the server's folders: a task gets the study's
bundle and returns the bytes of its files. Errors of the input are returned as data, because Dask
takes an exception for a failure of the cluster.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from zygomorph.core.cancelling import cancelled_when
from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.jobs.queue import making
from zygomorph.jobs.queue.making import Made
from zygomorph.jobs.queue.orders import ClipOrder, FinalOrder, from_data
from zygomorph.jobs.queue.program_version import program_version
from zygomorph.jobs.queue.stepping import adopt_states, step_through

_cancelled_runs: set[str] = set()


def cancel_run(run: str) -> None:
    """Make this worker abandon its tasks of one run of a job."""
    _cancelled_runs.add(run)


def bundle_task(bundle: bytes) -> bytes:
    """The bundle as a task of its own, on which others depend.

    Dask then sends it to each worker once, and runs it again if the worker that held it has died.
    """
    return bundle


@dataclass(frozen=True)
class Run:
    """The run of a job that a task belongs to.

    name : by which :func:`cancel_run` reaches it
    program : version that the job was begun with; any other makes nothing
    order : see :mod:`zygomorph.jobs.queue.orders`
    """

    name: str
    program: str
    order: Mapping[str, Any]

    def is_cancelled(self) -> bool:
        return self.name in _cancelled_runs


def make_unit(run: Run, bundle: bytes, number: int, states: bytes | None = None) -> Made:
    """Make the files of one frame, or of a whole mesh file.

    states : states of systems and memory masks at this frame, if they were stepped beforehand
    """

    def make(study: Study, evaluator: Evaluator) -> Made:
        order = from_data(run.order)
        return making.files_of_unit(study, evaluator, order, number, run.is_cancelled)

    return _made(run, bundle, states, make)


def trace_tile(
    run: Run, bundle: bytes, rows: tuple[int, int, int], states: bytes | None = None
) -> Made:
    """Trace some rows of a frame.

    rows : number of the frame, first row, and the row after the last
    states : as in :func:`make_unit`
    """

    def make(study: Study, evaluator: Evaluator) -> Made:
        order = from_data(run.order)
        assert isinstance(order, FinalOrder)  # only pictures are divided into tiles
        number, first, end = rows
        return making.traced_rows(
            study, evaluator, order, number, range(first, end), run.is_cancelled
        )

    return _made(run, bundle, states, make)


def step_states(
    run: Run, bundle: bytes, numbers: tuple[int, int], states: bytes | None = None
) -> Made:
    """Step systems and memory masks through a range of frames; the files are their states, by
    frame number.

    numbers : the first frame, and the one after the last
    states : of the nearest earlier frame whose states are known
    """

    def make(study: Study, evaluator: Evaluator) -> Made:
        order = from_data(run.order)
        assert not isinstance(order, ClipOrder)  # clips evaluate nothing
        with cancelled_when(run.is_cancelled):
            stepped = step_through(study, evaluator, order, range(*numbers))
            return Made({str(number): made for number, made in stepped})

    return _made(run, bundle, states, make)


def _made(
    run: Run,
    bundle: bytes,
    states: bytes | None,
    make: Callable[[Study, Evaluator], Made],
) -> Made:
    """Open the study, make something of it, and add the time it took or the error it ended with."""
    started = time.perf_counter()
    own = program_version()
    if own != run.program:
        return Made(program=own, worker=_own_address())
    try:
        study, evaluator = making.opened(bundle)
        if states is not None:
            adopt_states(evaluator, states)
        made = make(study, evaluator)
    except StepError as error:
        made = Made(error=(f"Step {error.step_id}: {error.message}", error.hint))
    except ZygomorphError as error:
        made = Made(error=(error.message, error.hint))
    except MemoryError:
        made = Made(
            error=("There is not enough memory for it.", "Choose a smaller size or draft quality.")
        )
    except Cancelled:
        made = Made(error=("It was called off.", ""))
    seconds = time.perf_counter() - started
    return replace(made, seconds=seconds, program=own, worker=_own_address())


def _own_address() -> str:
    """Address of the worker that runs this task; empty outside of a worker."""
    from distributed import get_worker

    try:
        return str(get_worker().address)
    except ValueError:
        return ""
