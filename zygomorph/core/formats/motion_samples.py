"""A piece's motion as samples over its loop, for files that mix what lies between two of them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.formats.morph_targets import largest_distance
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.smoothing import drawn_geometry

# A frame is halved so many times where it takes that to follow a bend, or a jump.
DEEPEST = 5
DEEPEST_JUMP = 7


@dataclass(frozen=True)
class Samples:
    """A piece at times, with the same faces at all of them.

    times : (T,) frames, from 0 to the last: whole frames, their middles, and as many between them
        as it takes
    geometries : one for each time
    first : what evaluating the first gave
    between : how far it is at most from straight lines between the samples, metres; smooth motion
        is a quarter as far from the halves of a line as from the whole
    held : whether it stands still between whole frames
    """

    times: np.ndarray
    geometries: list[Geometry]
    first: Result
    between: float
    held: bool

    @property
    def points(self) -> np.ndarray:
        """(T, n, 3) float32: points that tell where everything is."""
        return np.stack([geometry.probes() for geometry in self.geometries])


class FacesChange(ZygomorphError):
    """A piece has other faces than before, so that no one mesh can go from one to the other."""


class Sampler:
    """Evaluates one piece at the moments that are asked for; points at sharp edges are one for each
    side, since a file has one normal for each."""

    def __init__(
        self,
        study: Study,
        evaluator: Evaluator,
        piece: dict[str, Any],
        final: bool,
        cancelled: Callable[[], bool],
    ) -> None:
        self._study = study
        self._evaluator = evaluator
        self._piece = piece
        self._final = final
        self._cancelled = cancelled
        self._shape = ""

    def at(self, time: float) -> Result:
        """The piece at a time in frames.

        Raises FacesChange where its faces are not those that they were before, Cancelled.
        """
        if self._cancelled():
            raise Cancelled
        found = self._evaluator.evaluate(
            self._study,
            Request(self._piece["id"], time, self._final, shared=True, cancelled=self._cancelled),
        )
        if len(found.geometry.bases) > 1:
            found = replace(found, geometry=Geometry((found.mesh,)))
        found = replace(found, geometry=drawn_geometry(found.geometry))
        shape = found.geometry.shape
        if self._shape and shape != self._shape:
            raise FacesChange(
                f"The faces of {self._piece['name']!r} change at frame {time:g}; one GLB animation "
                "needs the same faces throughout.",
                "Deliver it as a sequence of mesh files, or keep its counts still.",
            )
        self._shape = shape
        return found

    def frame_by_frame(self, progress: Callable[[float, str], None]) -> Iterator[Geometry]:
        """Each whole frame, of a loop without the last, which is the first again; faces may
        change."""
        loop = self._study.loop
        count = loop.last + 1 if loop.one_way else loop.last
        for frame in range(count):
            self._shape = ""
            yield self.at(float(frame)).geometry
            progress((frame + 1) / count, f"frame {frame} of {self._piece['name']}")

    def over_the_loop(
        self,
        tolerance: float,
        check: Callable[[int, Geometry], None],
        progress: Callable[[float, str], None],
    ) -> Samples:
        """All of the loop, with so many samples that it goes in straight lines between them.

        tolerance : metres
        check : is told how many samples are to be made and the first, before they are
        """
        plan = plan_piece(self._study, self._piece["id"], self._final)
        first = self.at(0.0)
        last = self._study.loop.last
        if not plan.moves:
            check(1, first.geometry)
            return Samples(np.zeros(1), [first.geometry], first, 0.0, False)
        check(2 * last + 1, first.geometry)
        times, made, worst = [0.0], [first.geometry], 0.0
        held = plan.jumps
        for frame in range(last):
            after = self.at(frame + 1.0).geometry
            between, bent = self._between(frame, made[-1], frame + 1.0, after, tolerance)
            # One in the middle was expected.
            check(len(between) - 1, first.geometry)
            here = made[-1].probes()
            held = held and np.array_equal(between[0][1].probes(), here)
            held = held and np.array_equal(between[-1][1].probes(), here)
            times += [time for time, _ in between] + [frame + 1.0]
            made += [geometry for _, geometry in between] + [after]
            worst = max(worst, bent)
            progress((frame + 1) / last, f"frame {frame + 1} of {self._piece['name']}")
        return Samples(np.array(times), made, first, worst / 4, held)

    def _between(
        self,
        begin: float,
        before: Geometry,
        end: float,
        after: Geometry,
        tolerance: float,
        depth: int = 1,
        bent: float = np.inf,
    ) -> tuple[list[tuple[float, Geometry]], float]:
        """Samples between two, and how far the middle of a part between them was at most from
        the straight line.

        A smooth motion is bent a quarter as much over half the time; one that is not jumps, and
        is followed to the moment at which it does.

        bent : metres, how far the middle of the part that holds this one was
        """
        time = (begin + end) / 2
        middle = self.at(time).geometry
        away = largest_distance((before.probes() + after.probes()) / 2 - middle.probes())
        if away <= tolerance:
            return [(time, middle)], away
        jumps = away > bent / 2
        if depth >= (DEEPEST_JUMP if jumps else DEEPEST):
            # A jump within so short a time is one.
            return [(time, middle)], 0.0 if jumps else away
        left, a = self._between(begin, before, time, middle, tolerance, depth + 1, away)
        right, b = self._between(time, middle, end, after, tolerance, depth + 1, away)
        return [*left, (time, middle), *right], max(a, b)

    def still(self, time: float) -> Samples:
        """One moment."""
        found = self.at(time)
        return Samples(np.array([time]), [found.geometry], found, 0.0, False)
