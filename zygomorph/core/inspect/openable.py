"""Whether a study can be opened again: asked before it is stored."""

from __future__ import annotations

import json

from zygomorph.core.document.study import Study
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.plan import plan_piece, used_pieces

# Each piece of such a row is made while the one before it waits.
LONGEST_ROW = 40


def check_openable(study: Study) -> None:
    """Raise DocumentError with the place of what could be stored but not be read or planned."""
    try:
        json.dumps(study.document, allow_nan=False, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        raise DocumentError([("", "a text holds half of a character")]) from None
    except ValueError:
        raise DocumentError([("", "a number is not finite")]) from None
    for index, piece in enumerate(study.pieces):
        if len(used_pieces(study, piece["id"])) > LONGEST_ROW:
            raise DocumentError(
                [
                    (
                        f"/pieces/{index}",
                        f"it uses more than {LONGEST_ROW} other pieces, one through the other",
                    )
                ]
            )
    try:
        for piece in study.pieces:
            plan_piece(study, piece["id"])
    except RecursionError:
        raise DocumentError([("", "its parts refer to one another too deeply")]) from None
