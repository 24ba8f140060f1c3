"""Commands that write files: evaluate, deliver."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from zygomorph.cli.exits import DONE, WRONG_USAGE
from zygomorph.cli.pictures import PICTURES, deliver_pictures
from zygomorph.cli.queued import deliver_by_queue, final_order
from zygomorph.cli.stored import evaluator_of, load_study, open_store, piece_of
from zygomorph.core.document.study import Study

if TYPE_CHECKING:
    from zygomorph.jobs.queue.orders import MeshOrder


def _evaluate(study: Study, piece: str, frame: float, final: bool, data: Path) -> Any:
    from zygomorph.core.evaluation.evaluate import Request

    return evaluator_of(data).evaluate(study, Request(piece, frame, final))


def evaluate(arguments: argparse.Namespace) -> int:
    from zygomorph.core.formats.deliver_glb import deliver_glb
    from zygomorph.core.formats.write import WRITERS
    from zygomorph.jobs.delivery import write_whole

    study = load_study(arguments.study, arguments.data)
    piece = piece_of(study, arguments.piece)
    kind = arguments.out.suffix.lstrip(".").lower()
    if kind not in (*WRITERS, "glb"):
        print(
            f"--out must end in one of {', '.join('.' + k for k in (*WRITERS, 'glb'))}",
            file=sys.stderr,
        )
        return WRONG_USAGE
    result = _evaluate(study, piece, arguments.frame, arguments.final, arguments.data)
    if kind == "glb":
        whole = evaluator_of(arguments.data)
        at = {"piece": piece, "still": arguments.frame, "final": arguments.final}
        data = deliver_glb(study, whole, **at).data
    else:
        data = WRITERS[kind](result.mesh)
    write_whole(arguments.out, data)
    points, faces = len(result.mesh.points), result.mesh.topology.face_count
    print(f"{arguments.out}: {points:,} points, {faces:,} faces, {len(data):,} bytes")
    return DONE


def _frame_range(text: str | None, frames: int) -> range:
    if text is None:
        return range(frames)
    try:
        first, _, last = text.partition("-")
        found = range(int(first), int(last or first) + 1)
    except ValueError:
        found = range(0)
    if len(found) == 0:
        raise argparse.ArgumentTypeError(f"--frames takes A-B, not {text!r}")
    return found


def _mesh_order(arguments: argparse.Namespace, frames: range) -> MeshOrder:
    from zygomorph.jobs.queue.orders import MeshOrder

    return MeshOrder(
        arguments.kind,
        (frames[0], frames[-1]),
        arguments.piece,
        arguments.final,
        arguments.tolerance,
        arguments.numbers,
        arguments.copies,
        arguments.normals,
        not arguments.no_colours,
    )


def deliver(arguments: argparse.Namespace) -> int:
    from zygomorph.core.formats.deliver import SEQUENCES, deliver_sequence
    from zygomorph.core.formats.deliver_glb import deliver_glb
    from zygomorph.core.formats.deliver_usd import deliver_usd
    from zygomorph.jobs.delivery import write_whole
    from zygomorph.store.exchange import Exchange

    study = load_study(arguments.study, arguments.data)
    frames = _frame_range(arguments.frames, study.loop.frames)
    traced = arguments.drawn == "traced" or (arguments.drawn is None and arguments.final)
    if arguments.drawn is None and arguments.kind == "exr":
        traced = True
    if arguments.kind in PICTURES and traced:
        return deliver_by_queue(arguments, study, final_order(arguments, study, frames))
    if arguments.kind in PICTURES:
        return deliver_pictures(arguments, frames)
    if arguments.kind not in ("json", "bundle") and (arguments.scheduler or arguments.resume):
        return deliver_by_queue(arguments, study, _mesh_order(arguments, frames))
    show = sys.stderr.isatty()

    def progress(share: float, what: str) -> None:
        if show:
            print(f"\r{share:4.0%} {what:<40}", end="", file=sys.stderr, flush=True)

    evaluator = evaluator_of(arguments.data)
    common = {"final": arguments.final, "piece": arguments.piece, "progress": progress}
    if arguments.kind == "glb":
        made = deliver_glb(
            study,
            evaluator,
            tolerance=arguments.tolerance,
            numbers=arguments.numbers,
            copies_as=arguments.copies,
            **common,
        )
        write_whole(arguments.out, made.data)
        for each in made.details:
            print(
                f"{each['name']}: {each['shapes']} shapes by {each['method']}, "
                f"error {each['error_m']:.3g} m ({each['error_relative']:.3%})"
            )
        print(f"{arguments.out}: {len(made.data):,} bytes")
    elif arguments.kind == "model-page":
        from zygomorph.jobs.pages.make import page_of_model

        small: dict[str, Any] = {"numbers": "compact", "copies_as": "instances"}
        glb = deliver_glb(study, evaluator, tolerance=arguments.tolerance, **small, **common).data
        write_whole(arguments.out, page_of_model(study, glb))
        print(f"{arguments.out}: a page to send, {arguments.out.stat().st_size:,} bytes")
    elif arguments.kind == "usd":
        chosen = {"normals": arguments.normals, "colours": not arguments.no_colours}
        data = deliver_usd(study, evaluator, **chosen, **common)
        write_whole(arguments.out, data)
        print(f"{arguments.out}: {len(data):,} bytes")
    elif arguments.kind in SEQUENCES:
        arguments.out.mkdir(parents=True, exist_ok=True)
        count = 0
        try:
            for name, data in deliver_sequence(study, evaluator, arguments.kind, frames, **common):
                write_whole(arguments.out / name, data)
                count += 1
        except BaseException:
            print(f"{arguments.out}: cut short after {count} files", file=sys.stderr)
            raise
        print(f"{arguments.out}: {count} files")
    elif arguments.kind == "bundle":
        studies, _ = open_store(arguments.data)
        data = Exchange(studies.engine).bundle(study.document)
        write_whole(arguments.out, data)
        print(f"{arguments.out}: the study with all it uses, {len(data):,} bytes")
    else:
        write_whole(
            arguments.out,
            (json.dumps(study.document, indent=1, ensure_ascii=False) + "\n").encode(),
        )
        print(f"{arguments.out}: the study itself")
    return DONE
