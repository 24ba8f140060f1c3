"""Runs every finder over a study."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterator
from functools import cache

import zygomorph.core.inspect.findings as package
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.inspect.findings.finding import Finder, Finding, Look


@cache
def finders() -> dict[str, Finder]:
    """All finders by their kind: each is one file of this package with a ``find``."""
    found: dict[str, Finder] = {}
    for info in pkgutil.iter_modules(package.__path__):
        module = importlib.import_module(f"{package.__name__}.{info.name}")
        if hasattr(module, "find"):
            found[info.name] = module.find
    return found


def _found(look: Look, find: Finder) -> Iterator[Finding]:
    try:
        yield from find(look)
    except ZygomorphError:
        # What cannot be evaluated says so itself, at its step.
        return


def findings_of(study: Study, evaluator: Evaluator) -> list[Finding]:
    """What was noticed in a study, in the order of its pieces and steps."""
    look = Look(study, evaluator)
    order = {
        (piece["id"], step["id"]): (p, s)
        for p, piece in enumerate(study.pieces)
        for s, step in enumerate(piece["recipe"])
    }
    pieces = {piece["id"]: p for p, piece in enumerate(study.pieces)}
    found = [each for find in finders().values() for each in _found(look, find)]
    return sorted(found, key=lambda f: order.get((f.piece, f.step), (pieces.get(f.piece, 0), -1)))
