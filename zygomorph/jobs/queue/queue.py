"""The queue: which units of which jobs are with a worker, and what comes back.

One thread does all of it. Jobs are begun in the order of their ranks, and each worker has one unit
in hand and one waiting; where the first job has no unit left, the next one's are given out. What
comes back is written to the job's folder at once, so that nothing but what is in hand is lost when
anything dies: a worker, the scheduler, or this program.
"""

from __future__ import annotations

import queue
import threading
import time
import traceback
import uuid
from collections import Counter
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.core.formats.bundle import read_bundle
from zygomorph.jobs.queue import units
from zygomorph.jobs.queue.cluster import Cluster
from zygomorph.jobs.queue.finishing import cannot_write, join_tiles, put_together
from zygomorph.jobs.queue.folder import ENDED, JobFolder, Record, jobs_in
from zygomorph.jobs.queue.held import Held
from zygomorph.jobs.queue.kinds import count_of, label_of
from zygomorph.jobs.queue.live import Attempt, Live, Unit
from zygomorph.jobs.queue.orders import ClipOrder, Order, as_data
from zygomorph.jobs.queue.sending import Sender
from zygomorph.jobs.queue.units import Made

if TYPE_CHECKING:
    from distributed import Client, Future

TURN_S = 0.25
# Units of each worker: one in hand and one that waits for it.
AHEAD = 2
# Where nobody can be reached, it is tried again after so long.
AGAIN_S = 2.0
# A unit that takes so many times as long as most, and longer than so many seconds, is given to
# another worker as well when one has nothing to do.
SLOW_TIMES, SLOW_S = 3.0, 5.0
FETCHED_S = 120


class Queue:
    """Jobs that are kept in a folder; those that are not done go on at once.

    changed : is told of a job whenever something of it has changed
    ready : tells what is to be waited for before work begins, or None
    keep : takes the states of simulation caches; without it there are none
    """

    def __init__(
        self,
        folder: Path,
        cluster: Cluster | None = None,
        changed: Callable[[dict[str, Any]], None] = lambda told: None,
        ready: Callable[[], str | None] = lambda: None,
        keep: Callable[[HandedStates], int] | None = None,
    ) -> None:
        self._folder, self._changed, self._ready = folder, changed, ready
        self._keep_for_later = keep
        self.cluster = cluster or Cluster()
        self._jobs: dict[str, Live] = {}
        self._lock = threading.RLock()
        self._wake = threading.Event()
        self._results: queue.SimpleQueue[tuple[str, str]] = queue.SimpleQueue()
        self._finishers = ThreadPoolExecutor(2, thread_name_prefix="finish")
        self._closing = False
        self._again_at = 0.0
        # Which workers were refused, and the program that each has.
        self._refused: dict[str, str] = {}
        self._sender = Sender(self._came_back)
        self._turned = time.monotonic()
        self._thread: threading.Thread | None = None
        self._lock_file = Held(folder)
        if folder.is_dir() and self._lock_file.take():
            for kept in jobs_in(folder):
                self._take_up(kept)
        if self._open():
            self._work()

    def _work(self) -> None:
        """Have the thread at work; where there is no job there is none."""
        with self._lock:
            if self._thread is None and not self._closing:
                self._thread = threading.Thread(target=self._run, name="queue", daemon=True)
                self._thread.start()
        self._wake.set()

    def _take_up(self, kept: JobFolder) -> None:
        """A job of an earlier run of the program."""
        try:
            job = Live.of(kept)
        except ZygomorphError:
            return
        record = kept.record
        self._jobs[record.id] = job
        if record.state == "running":
            record.state = "waiting"
        if not job.done and record.program != units.program():
            self._begin_anew(job)
        if record.state == "waiting" and job.done and record.program != units.program():
            record.state = "paused"
            record.message = (
                f"Its first frames were made by version {record.program}; "
                f"this is {units.program()}."
            )
            record.hint = "Make it again, or its frames may differ."

    @staticmethod
    def _begin_anew(job: Live) -> None:
        """By this version, of a job of which another one has made nothing yet."""
        job.record.program = units.program()
        if job.walking is not None:
            job.walking.clear()
        if job.tiling is not None:
            job.tiling.clear()

    # What others ask for

    def add(
        self,
        bundle: bytes,
        order: Order,
        label: str | None = None,
        frames: Sequence[Path] = (),
    ) -> dict[str, Any]:
        """A new job, last in the queue. Raises ZygomorphError where it cannot be made so.

        frames : PNGs that it has from the beginning
        """
        study = Study(read_bundle(bundle).document)
        total = count_of(order, study) or len(frames)
        record = Record(
            uuid.uuid4().hex[:12],
            label or label_of(study, order),
            as_data(order),
            total,
            units.program(),
        )
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            if not self._lock_file.take():
                raise ZygomorphError(
                    f"Another program works on the jobs in {self._folder}.",
                    "Order it there, or end that program first.",
                )
            made = JobFolder.make(self._folder / record.id, record, bundle, frames)
        except OSError as error:
            raise ZygomorphError(
                f"The job could not be kept: {error}.", "Make room on the disk and try again."
            ) from error
        with self._lock:
            job = self._jobs[record.id] = Live(made, order, set(range(len(frames))))
            told = job.describe()
        self._tell(job)
        self._work()
        return told

    def get(self, job_id: str) -> Live:
        """Raises ZygomorphError where there is no such job."""
        job = self._jobs.get(job_id)
        if job is None:
            raise ZygomorphError(f"There is no job {job_id!r}.", "It may have been removed.")
        return job

    def all(self) -> list[Live]:
        """In the order in which they are done."""
        with self._lock:
            return sorted(self._jobs.values(), key=lambda job: job.record.rank)

    def pause(self, job_id: str) -> dict[str, Any]:
        return self._stand(job_id, "paused", ("waiting", "running"))

    def cancel(self, job_id: str) -> dict[str, Any]:
        """Its frames stay until it is removed, so that it can still go on."""
        return self._stand(job_id, "cancelled", ("waiting", "running", "paused"))

    def _stand(self, job_id: str, state: Any, before: Sequence[str]) -> dict[str, Any]:
        job = self.get(job_id)
        with self._lock:
            if job.record.state in before:
                job.record.state = state
                self._drop(job)
                job.keep()
        self._tell(job)
        return job.describe()

    def go_on(self, job_id: str) -> dict[str, Any]:
        """A job that was paused or called off, or that failed, goes on with what is missing."""
        job = self.get(job_id)
        with self._lock:
            if job.record.state in ("paused", "cancelled", "failed"):
                if job.done and job.record.program != units.program():
                    raise ZygomorphError(
                        f"Its first frames were made by version {job.record.program}.",
                        "Make it again, or its frames may differ.",
                    )
                if job.record.program != units.program():
                    self._begin_anew(job)
                job.record.state, job.record.message, job.record.hint = "waiting", "", ""
                job.stop.clear()
                job.keep()
        self._tell(job)
        self._work()
        return job.describe()

    def again(self, job_id: str) -> dict[str, Any]:
        """The same order of the same study, as a new job."""
        job = self.get(job_id)
        frames = self.pictures(job) if isinstance(job.order, ClipOrder) else ()
        return self.add(job.folder.bundle, job.order, job.record.label, frames)

    def pictures(self, job: Live) -> list[Path]:
        """All pictures of a job. Raises ZygomorphError where it has none, or not all of them."""
        if not job.has_pictures or not job.is_whole:
            raise ZygomorphError(
                "Not all of its pictures are there.", "Wait until it is done, or let it go on."
            )
        return [job.folder.frame(k, "png") for k in range(job.record.total)]

    def move(self, job_id: str, before: str | None) -> None:
        """Has it come before another one, or last."""
        job = self.get(job_id)
        with self._lock:
            others = [each for each in self.all() if each is not job]
            at = len(others)
            if before is not None:
                at = others.index(self.get(before))
            low = others[at - 1].record.rank if at > 0 else None
            high = others[at].record.rank if at < len(others) else None
            if low is None:
                job.record.rank = (high or 0.0) - 1
            else:
                job.record.rank = low + 1 if high is None else (low + high) / 2
            job.keep()
        self._tell(job)

    def remove(self, job_id: str) -> None:
        """With all its frames."""
        job = self.get(job_id)
        with self._lock:
            self._drop(job)
            job.record.state = "cancelled"
            self._jobs.pop(job_id, None)
        job.folder.remove()
        self._changed({"id": job_id, "state": "removed"})

    def go_to(self, address: str | None) -> None:
        """Have jobs made by another cluster, or by this machine; what is in hand is begun again."""
        with self._lock:
            for job in self._jobs.values():
                if job.attempts:
                    self.cluster.call_off(job.name)
                    job.run += 1
            self._lose()
        self.cluster.go_to(address)
        self._again_at = 0.0
        self._wake.set()

    def refused(self) -> dict[str, str]:
        """Workers that have another program, and which."""
        there = self.cluster.workers()
        return {address: own for address, own in self._refused.items() if address in there}

    def close(self) -> None:
        """Leave everything as it is; it goes on when the program is started again."""
        self._closing = True
        self._wake.set()
        if self._thread is not None:
            self._thread.join(10)
        with self._lock:
            for job in self._jobs.values():
                job.stop.set()
                if job.record.state == "running":
                    job.keep()
        self._finishers.shutdown(wait=True, cancel_futures=True)
        self.cluster.close()
        self._lock_file.leave()

    # The thread

    def _run(self) -> None:
        while not self._closing:
            try:
                # Not under the lock: it takes seconds until processes are there.
                client = self._reached()
                with self._lock:
                    self._turn(client)
            except Exception:
                # Whatever it is, the queue goes on.
                traceback.print_exc()
                time.sleep(TURN_S)
            self._wake.wait(TURN_S)
            self._wake.clear()

    def _open(self) -> list[Live]:
        return [job for job in self.all() if job.record.state in ("waiting", "running")]

    def _reached(self) -> Client | None:
        """The cluster, where a job has units to give out; None while it cannot be reached."""
        wanting = [job for job in self._open() if not job.is_whole]
        if not wanting:
            self.cluster.rest()
            return None
        waits = self._ready()
        if waits is None and not self.cluster.is_connected:
            with self._lock:
                self._lose()
            if time.monotonic() < self._again_at:
                return None
            waits = "starting" if self.cluster.settings.address is None else "connecting"
            for job in wanting:
                self._waits(job, waits)
            waits = None
        try:
            if waits is None:
                return self.cluster.client()
        except ZygomorphError as error:
            self._again_at = time.monotonic() + AGAIN_S
            waits = f"{error.message} Trying again."
        for job in wanting:
            self._waits(job, waits)
        return None

    def _lose(self) -> None:
        """What workers had is lost with the cluster."""
        for job in self._jobs.values():
            job.attempts.clear()
        self._sender.forget()
        self._refused.clear()

    def _turn(self, client: Client | None) -> None:
        self._count_time()
        self._take_results()
        open_jobs = self._open()
        for job in open_jobs:
            if job.is_whole and job.finishing is None:
                self._finish(job)
            for number in job.to_join():
                assert job.tiling is not None  # it has tiles
                job.tiling.joining.add(number)
                self._finishers.submit(self._join, job, number)
        wanting = [job for job in open_jobs if not job.is_whole]
        if wanting and client is not None and not self._closing:
            self._give_out(client, wanting)

    def _count_time(self) -> None:
        now = time.monotonic()
        for job in self._jobs.values():
            if job.record.state == "running" and not job.waits_for:
                job.record.spent += now - self._turned
        self._turned = now

    def _give_out(self, client: Client, jobs: Sequence[Live]) -> None:
        workers = self.cluster.workers()
        allowed = [address for address in workers if address not in self._refused]
        if not allowed:
            for job in jobs:
                self._waits(job, self._why_nobody(job.record.program))
            return
        # Given to each by name: Dask would rather have all where the study is already.
        in_hand = Counter(dict.fromkeys(allowed, 0))
        for job in self._jobs.values():
            at_work = (attempt.worker for attempt in job.attempts.values())
            in_hand.update(worker for worker in at_work if worker in in_hand)
        for job in jobs:
            self._waits(job, "")
            for unit in (*job.to_step(), *job.missing()):
                worker = min(allowed, key=lambda address: in_hand[address])
                if in_hand[worker] >= AHEAD and not unit.stepped:
                    return
                if not self._submit(client, job, unit, worker):
                    break
                in_hand[worker] += 1
        idle = [address for address in allowed if in_hand[address] == 0]
        if idle:
            self._take_slowest(client, jobs, idle[0])

    def _why_nobody(self, wanted: str) -> str:
        if not self._refused:
            return "waiting for a worker"
        address, own = next(iter(self._refused.items()))
        return f"the worker at {address} is version {own}; these frames are of {wanted}"

    def _waits(self, job: Live, what: str) -> None:
        if job.waits_for != what:
            job.waits_for = what
            self._tell(job)

    def _submit(
        self, client: Client, job: Live, unit: Unit, worker: str, copy: bool = False
    ) -> bool:
        """Returns whether it could be given; where that is the job's fault, it fails."""
        try:
            return self._sender.send(client, job, unit, worker, copy)
        except Exception as error:
            if self.cluster.is_connected:
                self._fail(job, f"It cannot be given out, an error of the program: {error!r}.", "")
            return False

    def _came_back(self, job_id: str, key: str) -> None:
        self._results.put((job_id, key))
        self._wake.set()

    def _take_slowest(self, client: Client, jobs: Sequence[Live], idle: str) -> None:
        """A unit that takes far longer than most is begun again by a worker that has nothing to do;
        what comes back first is taken."""
        now = time.monotonic()
        for job in jobs:
            usual = job.usual_seconds()
            if usual is None:
                continue
            copied = {each.unit for each in job.attempts.values() if each.copy}
            for attempt in list(job.attempts.values()):
                slow = now - attempt.started > max(SLOW_TIMES * usual, SLOW_S)
                if slow and not attempt.unit.stepped and attempt.unit not in copied:
                    self._submit(client, job, attempt.unit, idle, copy=True)
                    return

    # What comes back

    def _take_results(self) -> None:
        while True:
            try:
                job_id, key = self._results.get_nowait()
            except queue.Empty:
                return
            job = self._jobs.get(job_id)
            attempt = job.attempts.pop(key, None) if job else None
            if job is None or attempt is None or job.record.state != "running":
                continue
            try:
                self._take(job, attempt)
            except Exception as error:
                traceback.print_exc()
                self._fail(job, f"It stopped on an error of the program: {error!r}.", "")

    def _take(self, job: Live, attempt: Attempt) -> None:
        from distributed.scheduler import KilledWorker

        future: Future = attempt.future
        unit = attempt.unit
        if unit.stepped is None and unit.number in job.done:
            return
        if future.status in ("cancelled", "lost", "pending"):
            return
        if future.status == "error":
            error = future.exception(timeout=FETCHED_S)
            if isinstance(error, KilledWorker):
                self._fail(
                    job,
                    f"Frame {unit.number} ended every worker that it was given to.",
                    "It may need more memory than they have; choose a smaller size.",
                )
            elif job.record.state == "running":
                self._fail(job, f"The work stopped on an error of the program: {error!r}.", "")
            return
        try:
            made: Made = future.result(timeout=FETCHED_S)
        except Exception:
            # The worker that has it died before it was fetched: it is made again.
            return
        if made.program != job.record.program:
            self._refused[made.worker] = made.program
            return
        if made.error is not None:
            self._fail(job, *made.error)
            return
        if unit.stepped:
            self._keep_states(job, made)
        elif unit.tile is not None:
            self._keep_tile(job, unit, made)
        else:
            self._keep(job, unit.number, made)

    def _keep_states(self, job: Live, made: Made) -> None:
        assert job.walking is not None  # it was stepped for it
        try:
            for number, states in made.files.items():
                job.walking.put(int(number), states)
                if job.is_cache:
                    job.done.add(int(number))
                    job.ended_here += 1
        except OSError as error:
            self._cannot_write(job, error)
            return
        self._tell(job)

    def _keep_tile(self, job: Live, unit: Unit, made: Made) -> None:
        assert job.tiling is not None and unit.tile is not None  # it was cut
        if (unit.number, unit.tile) in job.tiling.known:
            return
        try:
            job.tiling.put(unit.number, unit.tile, made.files[units.TRACED])
        except OSError as error:
            self._cannot_write(job, error)
            return
        spent = job.record.costs.get(str(unit.number), 0.0)
        job.record.costs[str(unit.number)] = round(spent + made.seconds, 2)
        self._forget(job, unit)
        self._tell(job)

    def _join(self, job: Live, number: int) -> None:
        """Put a frame together of its tiles, aside."""
        assert job.tiling is not None  # it was cut
        try:
            made = join_tiles(job, number)
        except ZygomorphError as error:
            with self._lock:
                self._fail(job, error.message, error.hint)
            return
        with self._lock:
            if made is not None:
                self._keep(job, number, made)
            job.tiling.joining.discard(number)
        self._wake.set()

    @staticmethod
    def _forget(job: Live, unit: Unit) -> None:
        """Whoever else makes what is there now need not."""
        for key, other in list(job.attempts.items()):
            if other.unit == unit:
                job.attempts.pop(key)
                other.future.cancel(force=True)

    def _keep(self, job: Live, number: int, made: Made) -> None:
        try:
            job.folder.put(number, made.files)
        except OSError as error:
            self._cannot_write(job, error)
            return
        job.done.add(number)
        if job.walking is not None:
            job.walking.drop(number)
        if job.tiling is not None:
            job.tiling.drop(number)
        job.ended_here += 1
        job.record.costs[str(number)] = round(made.seconds, 2)
        if made.facts:
            job.record.facts[str(number)] = made.facts
        self._forget(job, Unit(number))
        job.keep(at_once=job.is_whole)
        self._tell(job)

    def _cannot_write(self, job: Live, error: OSError) -> None:
        told = cannot_write(job, error)
        record = job.record
        record.state, record.message, record.hint = told.state, told.message, told.hint
        self._drop(job)
        job.keep()
        self._tell(job)

    def _fail(self, job: Live, message: str, hint: str) -> None:
        job.record.state, job.record.message, job.record.hint = "failed", message, hint
        self._drop(job)
        job.keep()
        self._tell(job)

    def _drop(self, job: Live) -> None:
        """What workers have of it is not wanted any more."""
        job.stop.set()
        if job.attempts:
            self.cluster.call_off(job.name)
        for attempt in job.attempts.values():
            attempt.future.cancel(force=True)
        job.attempts.clear()
        job.waits_for = ""
        self._wake.set()

    # The end

    def _finish(self, job: Live) -> None:
        if job.record.state == "waiting":
            job.record.state = "running"
        job.stop.clear()
        job.finishing = self._finishers.submit(self._put_together, job)
        self._tell(job)

    def _put_together(self, job: Live) -> None:
        last = 0.0

        def report(share: float, what: str) -> None:
            nonlocal last
            job.share, job.record.what = share, what
            if time.monotonic() - last > TURN_S:
                last = time.monotonic()
                self._tell(job)

        told = put_together(job, report, self._keep_for_later)
        with self._lock:
            record = job.record
            # It may have been called off meanwhile.
            if told is not None and record.state not in ENDED:
                record.state, record.message, record.hint = told.state, told.message, told.hint
                record.what = ""
            job.finishing = None
            self._sender.forget(record.id)
            job.keep()
        self._tell(job)
        self._wake.set()

    def _tell(self, job: Live) -> None:
        self._changed(job.describe())
        self._wake.set()

    def product(self, job_id: str) -> tuple[Path, str]:
        """The file of a job that is done, and its name. Raises ZygomorphError where there is
        none."""
        job = self.get(job_id)
        path = job.folder.path / job.record.product
        if job.record.state != "done" or not path.is_file():
            raise ZygomorphError(
                "This delivery has no file.", f"Its state is {job.record.state!r}."
            )
        return path, job.record.filename

    def picture(self, job_id: str, number: int) -> Path:
        """A frame of a job as PNG. Raises ZygomorphError where it is not there."""
        job = self.get(job_id)
        path = job.folder.frame(number, "png")
        if not job.has_pictures or not path.is_file():
            raise ZygomorphError(f"Frame {number} is not there.", "It may come yet.")
        return path
