"""Keys of results: the one place where they are made.

A result's key is the same where all that it depends on is the same, and only then: a step's in the
cache, a state's in the history, and a piece's in the addresses of its frames.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.document.addresses import linked_values
from zygomorph.core.document.parts import parts_of, roots
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.dependencies import Dependencies
from zygomorph.core.evaluation.plan import (
    is_seen_by_camera,
    read_pieces,
    sees_camera,
    used_pieces,
)
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.scene import camera_key, camera_of, camera_path
from zygomorph.core.masking.blending import ResolvedLayer
from zygomorph.core.program import program_digest
from zygomorph.core.transforms.world_transform import parents_of_piece, surfaces_under
from zygomorph.core.values.entries import recipe_definitions


def step_key(
    before: str,
    step: PlannedStep,
    values: Resolved,
    layers: Sequence[ResolvedLayer],
    context: Context,
    motion: np.ndarray | None,
    remembered: str,
) -> str:
    """Key of what a step makes.

    before : key of its input
    motion : how its parent has moved, see :meth:`PlannedStep.motion`
    remembered : key of what its mask remembers, or ""
    """
    digest = hashlib.blake2b(before.encode(), digest_size=16)
    digest.update(f"{step.definition.key}.{step.definition.version}".encode())
    digest.update(values.fingerprint)
    for layer in layers:
        digest.update(b"|" + layer.fingerprint)
    digest.update(step.dependencies.fingerprint(context))
    if motion is not None:
        digest.update(b"<" + motion.tobytes())
    if remembered:
        # What is remembered goes on between whole frames.
        digest.update(f"~{remembered}@{context.frame!r}".encode())
    digest.update(f"{step.moved}/{step.store}".encode())
    return digest.hexdigest()


def state_key(
    given: str,
    before: str,
    own: bytes,
    dependencies: Dependencies,
    context: Context,
    stride: int,
) -> str:
    """Key of a state at a whole frame.

    given : key of what the step acts on
    before : key of the state before it, or ""
    own : fingerprint of what is stepped; dependencies : of the same
    stride : frames from state to state
    """
    digest = hashlib.blake2b(given.encode(), digest_size=16)
    digest.update(f"{before}/{stride}".encode())
    digest.update(b"|" + own)
    digest.update(dependencies.fingerprint(context))
    return digest.hexdigest()


def _without_words(study: Study, piece_id: str) -> dict[str, Any]:
    """A piece without what is only for those who read it: names, notes, groups of its steps."""
    piece = {k: v for k, v in study.piece(piece_id).items() if k not in ("name", "groups")}
    steps = [
        {k: v for k, v in step.items() if k not in ("note", "group")} for step in piece["recipe"]
    ]
    return piece | {"recipe": steps}


def _camera(study: Study) -> list[Any]:
    """Parts of the document that the study's camera depends on, the piece included that it
    follows."""
    path = camera_path(study)
    known = any(piece["id"] == path for piece in study.pieces)
    return [*camera_key(study), _without_words(study, path) if known else None]


def _depends_on(study: Study, piece_id: str, names: list[str], final: bool) -> list[Any]:
    """Parts of the document that a piece depends on besides its own recipe: the pieces that it
    uses, by their names, the parents of any of them, the camera where it is read, and the loop."""
    pieces, seen = _with_surfaces(study, [piece_id, *names], final)
    used = [_without_words(study, other) for other in pieces[1:]]
    parents = {n: part for each in pieces for n, part in parents_of_piece(study, each).items()}
    places = [parents[name] for name in sorted(parents)]
    return [
        used,
        places,
        _camera(study) if seen else None,
        study.document.get("loop", {}),
        final,
    ]


def _with_surfaces(study: Study, pieces: list[str], final: bool) -> tuple[list[str], bool]:
    """Some pieces and those to whose surfaces something of them sticks, with all that these use,
    and whether any of them depends on the study's camera."""
    found = list(pieces)
    seen = False
    for each in found:
        parts = list(parts_of(next(p for p in roots(study.document, "piece") if p.id == each)))
        if sees_camera(study, each, final):
            seen = True
            parts.append(camera_of(study.document))
        for under in surfaces_under(study, parts):
            new = [under, *used_pieces(study, under, final)]
            found += [name for name in dict.fromkeys(new) if name not in found]
    return found, seen


def _digest(parts: list[Any]) -> str:
    text = json.dumps(parts, sort_keys=True, separators=(",", ":"))
    return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()


def history_key(study: Study, piece_id: str, step_id: str, what: str, final: bool) -> str:
    """Hash of everything in the document that the past of a step depends on, and of nothing that
    comes after it.

    what : "mask" for what its mask remembers, which its own values change only where it makes
        copies, or "system"
    """

    def make() -> str:
        piece = _without_words(study, piece_id)
        recipe = piece["recipe"]
        index = next(k for k, step in enumerate(recipe) if step["id"] == step_id)
        own = recipe[index]
        if what == "mask" and not recipe_definitions()[own["step"]].makes_copies:
            own = {"step": own["step"], "where": own.get("where", {})}
        names = used_pieces(study, piece_id, final)
        place = {k: piece.get(k) for k in ("place", "carried")}
        parts = [recipe[:index], own, place, *_depends_on(study, piece_id, names, final)]
        return _digest([piece_id, step_id, what, *parts, linked_values(study.document, parts)])

    return study.once(("history", piece_id, step_id, what, final), make)


def piece_key(study: Study, piece_id: str, final: bool) -> str:
    """Hash of everything the frames of a piece depend on except the frame, the program itself
    included: frames are kept for ever by their address, and an older program's must not be
    shown."""

    def make() -> str:
        piece = {k: v for k, v in _without_words(study, piece_id).items() if k != "visible"}
        names = read_pieces(study, piece_id, final)
        seen = _camera(study) if is_seen_by_camera(study, piece_id, final) else None
        parts = [piece, seen, *_depends_on(study, piece_id, names, final)]
        return _digest([*parts, linked_values(study.document, parts), program_digest()])

    return study.once(("key", piece_id, final), make)
