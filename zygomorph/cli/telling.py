"""Commands that tell something: catalogue, check, seam, bench."""

from __future__ import annotations

import argparse
import sys

from zygomorph.cli.exits import DONE, WRONG_INPUT
from zygomorph.cli.stored import evaluator_of, load_study, print_json
from zygomorph.core.errors import StepError


def catalogue(arguments: argparse.Namespace) -> int:
    from zygomorph.core.registry import describe_catalogue

    described = describe_catalogue()
    if arguments.json:
        print_json(described)
        return DONE
    for sort in ("forms", "steps", "layers", "signals"):
        print(sort.upper())
        for entry in described[sort]:
            print(f"  {entry['key']:<12} {entry['help']}")
    return DONE


# Findings that are no matter of taste: something that the study names is not there.
ERRORS = frozenset({"link_to_nothing"})


def check(arguments: argparse.Namespace) -> int:
    """Whether the document is valid and every piece can be computed, at two frames; what was
    noticed is told."""
    from zygomorph.core.evaluation.evaluate import Request
    from zygomorph.core.inspect.findings.collect import findings_of

    study = load_study(arguments.study, arguments.data)
    evaluator = evaluator_of(arguments.data)
    wrong = 0
    for piece in study.pieces:
        for frame in (0.0, study.loop.frames / 2):
            try:
                evaluator.evaluate(study, Request(piece["id"], frame))
            except StepError as error:
                wrong += 1
                place = f"piece {piece['id']}, step {error.step_id}, frame {frame:g}"
                print(f"{place}: {error}", file=sys.stderr)
                break
    if wrong:
        return WRONG_INPUT
    intended = set(study.document.get("intended", []))
    for each in findings_of(study, evaluator):
        place = f"piece {each.piece}" + (f", step {each.step}" if each.step else "")
        if each.kind in ERRORS:
            wrong += 1
            print(f"{place}: {each.title}. {each.reason}", file=sys.stderr)
        elif each.id not in intended:
            print(f"{place}: {each.title}. {each.reason}")
    if wrong:
        return WRONG_INPUT
    count = len(study.pieces)
    print(f"{study.name}: {count} piece{'' if count == 1 else 's'}, no error found")
    return DONE


def seam(arguments: argparse.Namespace) -> int:
    from zygomorph.core.inspect.seam import seam_of_study

    study = load_study(arguments.study, arguments.data)
    found = [s.describe() for s in seam_of_study(study, evaluator_of(arguments.data))]
    if arguments.json:
        print_json({"study": study.name, "pieces": found})
        return DONE
    for each in found:
        position = "—" if each["position_m"] is None else f"{each['position_m']:.3g} m"
        velocity = each["velocity_relative"]
        speed = "undefined" if velocity is None else f"{velocity:.2%}"
        print(
            f"{each['piece']}: {each['state']}, position {position}, velocity {speed} "
            f"{each['note']}".rstrip()
        )
    return DONE


def bench(arguments: argparse.Namespace) -> int:
    from zygomorph.bench.run import run

    results = run(arguments.only)
    if arguments.json:
        print_json({"results": results})
    else:
        for each in results:
            met = {True: "met", False: "NOT met", None: ""}[each["met"]]
            goal = "" if each["goal"] is None else f"goal {each['goal']:g}"
            print(f"{each['name']:<34}{each['value']:>12.4g} {each['unit']:<6} {goal:<14}{met}")
    return DONE
