"""What the routes share: the store, the evaluator, the caches, who asked last."""

from __future__ import annotations

import threading
import time as clock
from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from zygomorph.api.debounce import Debounce
from zygomorph.api.events import Events
from zygomorph.api.frames import FrameOptions, pack_frame, pack_topology
from zygomorph.api.lanes import PATIENCE_S, Lanes
from zygomorph.api.state import state_of
from zygomorph.api.thumbnails import Thumbnails
from zygomorph.api.workers import Task, Workers
from zygomorph.api.working import Working
from zygomorph.core.cancelling import cancelled_when
from zygomorph.core.document.parents import sticks_to_surfaces
from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.loop_frames import LoopFrames
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.inspect.seam import Seam, seam_of_study
from zygomorph.core.kernels.compile_ahead import CompileAhead
from zygomorph.core.kernels.cores import CORES
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.memo.memo import Memo
from zygomorph.jobs.delivery import clear_left
from zygomorph.jobs.pictures.desk import PictureDesk
from zygomorph.jobs.pictures.kept import Kept, KeptPictures
from zygomorph.jobs.pictures.task import PictureTask
from zygomorph.jobs.preview.previews import Previews
from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
from zygomorph.jobs.queue.queue import Queue
from zygomorph.jobs.runner import Job, Jobs
from zygomorph.store.assets import Assets
from zygomorph.store.database import NotStored, open_engine
from zygomorph.store.exchange import Exchange
from zygomorph.store.gradients import Gradients
from zygomorph.store.presets import Presets
from zygomorph.store.settings import Settings
from zygomorph.store.state_shelf import StateShelf
from zygomorph.store.studies import Stored, Studies

FRAME_CACHE_BYTES = 256_000_000
# Topologies of frames that were made lately, which viewers ask for after them.
TOPOLOGY_BYTES = 192_000_000
# What is made quickly is not worth keeping: viewers keep their frames themselves, and fresh memory
# for one more costs a tenth of computing it again.
KEPT_FROM_S = 0.02
MAX_KEYS = 500


class Service:
    def __init__(
        self,
        folder: Path,
        cache_bytes: int = 512_000_000,
        compiling: CompileAhead | None = None,
        most_thumbnails: int | None = None,
        delivered: Path | None = None,
        cluster: ClusterSettings | None = None,
    ) -> None:
        """compiling : what is compiled aside, where this is the first start on a machine
        most_thumbnails : of a loop no more pictures than so many are drawn for the gallery
        delivered : where deliveries are made, beside the studies by default; it is emptied
        cluster : who works on jobs of the queue, processes of this machine by default
        """
        self.folder = folder
        self.compiling = compiling
        self.debounce = Debounce()
        engine = open_engine(folder / "zygomorph.sqlite3")
        self.engine = engine
        self.studies = Studies(engine)
        self.presets = Presets(engine)
        self.gradients = Gradients(engine)
        self.assets = Assets(engine)
        self.exchange = Exchange(engine)
        self.shelf = StateShelf(folder / "states")
        self.shelf.clear_former()
        self.evaluator = Evaluator(self.assets.mesh, cache_bytes, self.assets.images, self.shelf)
        self.events = Events()
        self.delivered = delivered or folder / "delivered"
        clear_left(self.delivered)
        self.jobs = Jobs(self._job_changed)
        self.drawn = KeptPictures((delivered or folder) / "drawn")
        self.pictures = PictureDesk(self.jobs, self.drawn)
        self.settings = Settings(folder / "settings.json")
        self.queue = Queue(
            (delivered or folder) / "jobs",
            Cluster(self._chosen(cluster or ClusterSettings())),
            lambda told: self.events.publish("job", told),
            self._not_ready,
            self.shelf.put,
        )
        self.previews = Previews(folder / "zygomorph.sqlite3")
        self._lanes = Lanes(CORES)
        self._finishing = Workers(1, "surfaces")
        self._by_key: Memo[Study] = Memo(MAX_KEYS)
        self._frames: Memo[memoryview] = Memo(FRAME_CACHE_BYTES)
        self._topologies: Memo[Topology] = Memo(TOPOLOGY_BYTES)
        self._seams: Memo[list[Seam]] = Memo(1_000_000)
        self.thumbnails = Thumbnails(
            folder / "thumbnails",
            self.evaluator,
            lambda: self.events.publish("studies", {}),
            self._stand_back,
            most_thumbnails,
        )
        self.working = Working()
        self._latest: dict[tuple[str, str, str], int] = {}
        self._latest_lock = threading.Lock()
        self._go_on_drawing()

    def _chosen(self, cluster: ClusterSettings) -> ClusterSettings:
        """The scheduler of the command line, or else the one that was chosen last."""
        cluster = replace(cluster, states=self.folder / "states")
        address = self.settings.get("scheduler")
        if cluster.address is not None or not isinstance(address, str):
            return cluster
        return replace(cluster, address=address)

    def _go_on_drawing(self) -> None:
        """Pictures of an earlier run wait for a window that draws what is missing."""
        for job in self.drawn.done():
            self.jobs.know(job)
        for kept in self.drawn.unfinished():
            try:
                self.draw_kept(kept)
            except ZygomorphError:
                # Of a study that this version does not take any more.
                self.drawn.remove(kept.job)

    def draw_kept(self, kept: Kept) -> Job:
        """Have a window draw pictures that are kept. Raises ZygomorphError where it cannot."""
        stored = Stored(kept.study, dict(kept.document), kept.revision, "", "")
        study = self.study(stored.document)
        frames = self.drawn.frames(kept.job)
        task = PictureTask(study, kept.order, frames.parent, self.state(stored), frames)
        return self.pictures.start(kept.label, task, kept.job)

    def _stand_back(self) -> None:
        """Pictures would take the cores from frames, and from what frames wait for."""
        if self.compiling:
            self.compiling.finished.wait()
        self.debounce.wait()

    def _not_ready(self) -> str | None:
        """What jobs wait for before they begin: on the first start, that all is compiled."""
        ahead = self.compiling
        if ahead is None or ahead.finished.is_set():
            return None
        return f"getting ready for this machine: {ahead.done} of {ahead.total}"

    def bundle(self, document: Mapping[str, Any]) -> bytes:
        """A study with all it uses, as one ZIP."""
        return self.exchange.bundle(document)

    def close(self) -> None:
        """End all that works aside; jobs go on at the next start."""
        self.events.close()
        self.jobs.leave()
        self.queue.close()
        self.previews.close()
        self.debounce.close()
        self.thumbnails.close()

    def _job_changed(self, job: Job) -> None:
        self.events.publish("job", job.describe())

    def study(self, document: Mapping[str, Any]) -> Study:
        """A checked document, with the sounds that are stored here."""
        study = Study(document, self.assets.sound, images=self.assets.images)
        return self.evaluator.with_geometry(study)

    def known_study(self, key: str) -> Study | None:
        """The study in which a piece has this content key, if that was given out not long ago, or
        pictures of it are being drawn."""
        return self._by_key.get(key) or self.pictures.study_with(key)

    def study_of(self, key: str, study_id: str, piece: str, final: bool) -> Study:
        """The study in which a piece has this content key.

        A key that was given out not long ago is answered from memory, so that playing asks the
        database nothing. Raises ZygomorphError where the piece has changed since and the older
        state is no longer known.
        """
        known = self.known_study(key)
        if known is not None:
            return known
        study = self.study(self.studies.document(study_id))
        self.remember(study)
        if piece_key(study, piece, final) != key:
            raise ZygomorphError(
                "The piece has changed since this address was made.", "Load the study again."
            )
        return study

    def remember(self, study: Study) -> None:
        """Let frames of this state of a study be asked for by their keys."""
        for piece in study.pieces:
            for final in (False, True):
                self._by_key.put(piece_key(study, piece["id"], final), study, 1)

    def state(self, stored: Stored) -> dict[str, Any]:
        """Everything a window needs to know of a study."""
        study = self.study(stored.document)
        self.remember(study)
        if not sticks_to_surfaces(study.document):
            return state_of(stored, study)
        surfaces = self.evaluator.loop_frames()
        shown = replace(study, surfaces=surfaces).with_document(study.document)

        def work() -> dict[str, Any]:
            with GATE.wide(PATIENCE_S):
                return state_of(stored, shown)

        told = self._lanes.run(work, f"{stored.id}/state", False)
        if surfaces.unfinished:
            self._finishing.give(Task(lambda: self._finish(stored, surfaces)))
        return told

    def _finish(self, stored: Stored, surfaces: LoopFrames) -> None:
        """Compute all frames of the surfaces that something sticks to, and let windows ask again;
        none, where the study has changed meanwhile."""
        for work in surfaces.unfinished:
            if self.studies.get(stored.id).revision != stored.revision:
                return
            with GATE.narrow():
                work()
        self.events.publish("study", {"id": stored.id, "revision": stored.revision, "places": True})

    def frame(
        self,
        study: Study,
        piece: str,
        options: FrameOptions,
        mask_of: str | None,
        many: bool = False,
        gone: Callable[[], bool] = lambda: False,
        study_id: str = "",
    ) -> memoryview:
        """A frame of a stored study; one that took long is kept by its content key.

        many : take one core, because others are wanted at the same time
        gone : says whether who asked has left
        study_id : of the stored study, by which it is known whether its frames take long

        Raises Cancelled where who asked has left.
        """
        own_key = piece_key(study, piece, options.final)
        self.working.refuse_stopped(study_id, piece, own_key)
        key = f"{own_key}/{options.frame}/{mask_of}"
        key += ("/exact" if options.exact else "") + f"/{options.stride}"
        key += f"/{options.shards}" + ("/rest" if options.rest else "")
        kept = self._frames.get(key)
        if kept is None:
            request = Request(
                piece,
                options.frame,
                options.final,
                mask_of,
                stride=options.stride,
                shared=many,
                cancelled=gone,
                patience=PATIENCE_S,
            )
            kept, seconds = self._computed(study, request, options, study_id, own_key)
            if seconds > KEPT_FROM_S:
                self._frames.put(key, kept, len(kept))
        return kept

    def preview(
        self,
        study: Study,
        piece: str,
        options: FrameOptions,
        mask_of: str | None,
        asker: tuple[str, str, str],
        sequence: int,
        many: bool = False,
        gone: Callable[[], bool] = lambda: False,
    ) -> memoryview:
        """A frame with changes that are not stored; the latest of an asker's requests wins.

        many : take one core, because the asker's renderer takes the others
        gone : says whether who asked has left

        Raises Cancelled where a newer one has come in, or who asked has left.
        """

        def outdated() -> bool:
            return self._latest.get(asker, -1) > sequence or gone()

        with self._latest_lock:
            self._latest[asker] = max(sequence, self._latest.pop(asker, -1))
            while len(self._latest) > 1000:
                self._latest.pop(next(iter(self._latest)))
        request = Request(
            piece,
            options.frame,
            options.final,
            mask_of,
            keep_tail=True,
            dragged=True,
            stride=options.stride,
            shared=many,
            cancelled=outdated,
            patience=PATIENCE_S,
        )
        return self._computed(study, request, options, asker[1])[0]

    def _computed(
        self,
        study: Study,
        request: Request,
        options: FrameOptions,
        study_id: str,
        key: str = "",
    ) -> tuple[memoryview, float]:
        """A frame, and the seconds it took; how long it waited for its turn is not counted.

        key : the content key, or "" of what is not stored
        """
        self.debounce.asked()

        def work() -> tuple[memoryview, float]:
            if request.cancelled():
                raise Cancelled
            started = clock.perf_counter()
            with self.working.making(study_id, request.piece, key) as making:
                wanted = replace(request, cancelled=lambda: making.stopped or request.cancelled())
                drawn = self.evaluator.drawn(study, wanted)
                enter = GATE.narrow if request.shared else GATE.wide
                with enter(request.patience), cancelled_when(wanted.cancelled):
                    geometry = drawn.result.geometry
                    GATE.suit(geometry.work)
                    packed = pack_frame(request.piece, drawn, options)
                    for base in geometry.bases:
                        self._topologies.put(base.topology.digest, base.topology)
            self.evaluator.recount()
            return packed, clock.perf_counter() - started

        return self._lanes.run(work, f"{study_id}/{request.piece}", request.shared)

    def topology(self, digest: str) -> memoryview:
        """What frames that name this digest have in common. Raises NotStored where no such frame
        was made lately; making one of them again brings it back."""
        topology = self._topologies.get(digest)
        if topology is None:
            raise NotStored(
                f"The topology {digest} is not here any more.", "Ask for the frame again."
            )
        with GATE.narrow(PATIENCE_S):
            packed = pack_topology(topology)
        self._topologies.recount()
        return packed

    def seams(self, study: Study) -> list[Seam]:
        key = "/".join(piece_key(study, p["id"], False) for p in study.pieces) or "none"
        key += "".join(str(int(p.get("visible", True))) for p in study.pieces)
        kept = self._seams.get(key)
        if kept is None:
            kept = seam_of_study(study, self.evaluator)
            self._seams.put(key, kept, 2000)
        return kept
