"""What the queue's own process does with the units of a job: joining tiles and making the product,
the file that is downloaded."""

from __future__ import annotations

import errno
import traceback
from collections.abc import Callable
from dataclasses import dataclass

from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.jobs.queue.active_job import ActiveJob
from zygomorph.jobs.queue.folder import State
from zygomorph.jobs.queue.kinds import details_of, finish
from zygomorph.jobs.queue.making import Made, picture_of_tiles
from zygomorph.jobs.queue.orders import FinalOrder

FULL = (errno.ENOSPC, errno.EDQUOT)


@dataclass(frozen=True)
class Outcome:
    """State that a job changes to, with a message and a hint for the user."""

    state: State
    message: str = ""
    hint: str = ""


def made_product(
    job: ActiveJob,
    report: Callable[[float, str], None],
    keep: Callable[[HandedStates], int] | None = None,
) -> Outcome | None:
    """Make the product of a job and enter it in its record.

    report : called with the share done, 0 to 1, and what is being done
    keep : stores the states of a simulation cache

    Returns None if the job was stopped meanwhile.
    """
    try:
        product = finish(job.folder, job.study, job.order, report, job.stop.is_set, keep)
        size = product.path.stat().st_size
    except Cancelled:
        return None
    except ZygomorphError as error:
        return Outcome("failed", error.message, error.hint)
    except OSError as error:
        hint = "Make room on the disk and let it go on; its frames are all there."
        return Outcome("paused", f"The file could not be written: {error}.", hint)
    except Exception as error:
        traceback.print_exc()
        return Outcome("failed", f"It stopped on an error of the program: {error!r}.")
    record = job.record
    facts = [record.facts.get(str(k), {}) for k in range(record.total)]
    record.product = product.path.relative_to(job.folder.path).as_posix()
    record.filename, record.size = product.filename, size
    record.details = details_of(job.order, facts, product)
    return Outcome("done")


def join_tiles(job: ActiveJob, number: int) -> Made | None:
    """A frame from its tiles. Raises ZygomorphError.

    Returns None if one of them is missing or damaged; all tiles of the frame are then made again.
    """
    assert job.tiling is not None and isinstance(job.order, FinalOrder)  # the caller has checked
    try:
        parts = job.tiling.parts(number)
        made = picture_of_tiles(job.folder.bundle, job.order, number, parts)
    except (OSError, ValueError, KeyError):
        job.tiling.drop(number)
        job.record.costs.pop(str(number), None)
        return None
    made.seconds = job.record.costs.get(str(number), 0.0)
    return made


def cannot_write(job: ActiveJob, error: OSError) -> Outcome:
    """The job pauses when a unit cannot be written, and says how much room is needed."""
    hint = "Make room on the disk and let it go on; nothing that is done is lost."
    if error.errno not in FULL:
        return Outcome("paused", f"A frame could not be written: {error}.", hint)
    message = "The disk is full."
    if job.done:
        missing = job.record.total - len(job.done)
        need = job.size_of_frames() / len(job.done) * missing
        message += f" About {_bytes(need)} are needed for what is missing."
    return Outcome("paused", message, hint)


def _bytes(count: float) -> str:
    for unit in ("bytes", "kB", "MB", "GB"):
        if count < 1000 or unit == "GB":
            return f"{count:.0f} {unit}" if unit == "bytes" else f"{count:.1f} {unit}"
        count /= 1000
    raise AssertionError  # the last unit is taken
