"""In which order, and by which threads, frames are made: a light one never waits for a heavy one.

A frame that is wanted soon is made by the thread that has all cores, one of many by one of those
that have one each. What waits longer than a light frame takes is overtaken: a further thread
makes it beside them with one core. What is known to be heavy does not overtake, so that heavy
frames are made one after the other and their memory is not added up.
"""

from __future__ import annotations

import threading
import time as clock
from collections import OrderedDict
from collections.abc import Callable
from typing import TypeVar

from zygomorph.api.workers import Task, Workers

T = TypeVar("T")
# A frame that takes longer is heavy; one that has waited for so long overtakes.
HEAVY_S = 0.25
PATIENCE_S = 0.1
# What nobody has seen may turn out heavy as well, and keep one of them busy.
OVERTAKERS = 4
KNOWN = 1000


class Lanes:
    def __init__(self, cores: int) -> None:
        # OpenMP keeps a team for every thread that ever started one; with all of the server's
        # threads starting their own, waiting teams would take the cores from the working one.
        self._alone = Workers(1, "frame")
        self._side_by_side = Workers(cores, "frames")
        self._overtaking = Workers(OVERTAKERS, "overtaking")
        self._took: OrderedDict[str, float] = OrderedDict()
        self._noting = threading.Lock()

    def run(self, work: Callable[[], T], whose: str, shared: bool) -> T:
        """What ``work`` returns; what it raises is raised here.

        whose : what the work is for; what took long before is expected to take long again
        shared : by one core, because others are wanted at the same time
        """

        def timed() -> T:
            started = clock.perf_counter()
            try:
                return work()
            finally:
                self._note(whose, clock.perf_counter() - started)

        task = Task(timed)
        (self._side_by_side if shared else self._alone).give(task)
        waited = task.wait(PATIENCE_S)
        if not waited and not task.begun and self._took.get(whose, 0.0) <= HEAVY_S:
            self._overtaking.give(task)
        return task.result()

    def _note(self, whose: str, seconds: float) -> None:
        with self._noting:
            self._took[whose] = seconds
            self._took.move_to_end(whose)
            while len(self._took) > KNOWN:
                self._took.popitem(last=False)
