"""The Dask cluster that works on jobs: processes of this machine, started when the first job needs
them, or an existing cluster by its address."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.kernels.cores import CORES
from zygomorph.jobs.queue import worker_tasks
from zygomorph.jobs.queue.connecting import connected
from zygomorph.jobs.queue.making import CORES_NAMED, STATES_NAMED
from zygomorph.jobs.queue.program_version import program_version

if TYPE_CHECKING:
    from distributed import Client, LocalCluster

# A unit is given to so many workers if each dies of it; then its job fails.
MOST_DEATHS = 5
# Workers of this machine are ended after so long without a job.
IDLE_S = 180.0

# Key of the scheduler's metadata under which the program version of its jobs is published.
NAME = "zygomorph-program"

_SETTINGS = {
    "distributed.scheduler.allowed-failures": MOST_DEATHS,
    "distributed.scheduler.work-stealing": False,
    "distributed.scheduler.worker-saturation": 1.0,
    "distributed.comm.timeouts.connect": "10s",
    "distributed.comm.retry.count": 2,
    "distributed.admin.low-level-log-length": 100,
    # What a worker keeps is bounded by its evaluator.
    "distributed.worker.memory.target": False,
    "distributed.worker.memory.spill": False,
    "distributed.worker.memory.pause": False,
    "distributed.worker.memory.terminate": False,
}


@dataclass(frozen=True)
class ClusterSettings:
    """address : of a Dask scheduler, such as tcp://10.0.0.5:8786; None for workers of this machine
    workers : their number; cores : that each uses
    apart : whether they are processes; otherwise they are threads of this one
    states : folder with the simulation caches of this machine, which its workers read
    """

    address: str | None = None
    workers: int = field(default_factory=lambda: CORES)
    cores: int = 1
    apart: bool = True
    states: Path | None = None


class Cluster:
    """Connects, or starts workers, when a client is first asked for, and again when it was lost."""

    def __init__(self, settings: ClusterSettings | None = None) -> None:
        self.settings = settings or ClusterSettings()
        self._client: Client | None = None
        self._own: LocalCluster | None = None
        self._lock = threading.RLock()
        self._used = 0.0

    @property
    def is_connected(self) -> bool:
        client = self._client
        return client is not None and client.status == "running"

    def client(self) -> Client:
        """Raises ZygomorphError if the cluster cannot be reached."""
        with self._lock:
            self._used = time.monotonic()
            if not self.is_connected:
                self._leave()
                self._client = self._connected()
            assert self._client is not None  # it has just been made
            return self._client

    def _connected(self) -> Client:
        import dask

        dask.config.set(_SETTINGS)
        address = self.settings.address
        if address is None:
            return self._started()
        found = connected(address)
        found.set_metadata([NAME], program_version())
        return found

    def _started(self) -> Client:
        """A client of new workers on this machine."""
        from distributed import Client, LocalCluster

        logging.getLogger("distributed").setLevel(logging.CRITICAL)
        cores = str(self.settings.cores)
        try:
            self._own = LocalCluster(
                n_workers=self.settings.workers,
                threads_per_worker=1,
                processes=self.settings.apart,
                dashboard_address="127.0.0.1:0",
                worker_dashboard_address=None,
                memory_limit=0,
                silence_logs=logging.CRITICAL,
                **(self._environment(cores) if self.settings.apart else {}),
            )
            return Client(self._own, direct_to_workers=True, set_as_default=False)
        except (OSError, TimeoutError, ValueError, RuntimeError) as error:
            raise ZygomorphError(
                f"The processes that draw frames cannot be started: {error.__cause__ or error}.",
                "Try again.",
            ) from error

    def _environment(self, cores: str) -> dict[str, Any]:
        env = dict.fromkeys((CORES_NAMED, "OMP_NUM_THREADS", "OIDN_NUM_THREADS"), cores)
        if self.settings.states is not None:
            env[STATES_NAMED] = str(self.settings.states)
        return {"host": "127.0.0.1", "env": env}

    def go_to(self, address: str | None) -> None:
        """Use another scheduler from now on, or workers of this machine."""
        with self._lock:
            self._leave()
            self.settings = replace(self.settings, address=address)

    def workers(self) -> dict[str, Any]:
        """What the scheduler tells of each worker, by address; empty if it is not connected."""
        client = self._client
        if client is None or client.status != "running":
            return {}
        try:
            found: dict[str, Any] = client.scheduler_info(n_workers=-1)["workers"]
        except Exception:
            # The connection is being lost at this moment.
            return {}
        return found

    def cancel_run(self, run: str) -> None:
        """Make all workers abandon their tasks of a run of a job."""
        client = self._client
        if client is not None and client.status == "running":
            _quietly(lambda: client.run(worker_tasks.cancel_run, run, wait=False))

    def rest(self) -> None:
        """End workers of this machine that have been idle for long."""
        with self._lock:
            if self._own is not None and time.monotonic() - self._used > IDLE_S:
                self._leave()

    def in_use(self) -> None:
        self._used = time.monotonic()

    def _leave(self) -> None:
        for each in (self._client, self._own):
            if each is not None:
                _quietly(lambda each=each: each.close(timeout=5))  # type: ignore[misc]
        self._client = self._own = None

    def close(self) -> None:
        with self._lock:
            self._leave()


def program_of_cluster(address: str) -> str | None:
    """Version of the program whose jobs a cluster works on; None if it has had no job yet.

    Raises ZygomorphError if it cannot be reached.
    """
    with connected(address) as client:
        found: str | None = client.get_metadata([NAME], None)
        return found


def _quietly(act: Callable[[], Any]) -> None:
    try:
        act()
    except Exception:
        # What is lost already cannot be closed any better.
        return
