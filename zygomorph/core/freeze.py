"""A study that stands still as it is at one frame."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.resolve import sample_number
from zygomorph.core.study import Study


def frozen_at(study: Study, piece_id: str, frame: float) -> Study:
    """One piece of the study with every signal replaced by its value at a frame."""

    def still(value: Any) -> Any:
        if isinstance(value, dict):
            if "signal" in value:
                return float(
                    sample_number(value, np.array([frame]), study.loop, False, study.ties)[0]
                )
            return {name: still(part) for name, part in value.items()}
        if isinstance(value, list):
            return [still(part) for part in value]
        return value

    piece = study.piece(piece_id)
    frozen = {**piece, "recipe": still(piece["recipe"]), "place": still(piece.get("place", {}))}
    return Study({**study.document, "pieces": [frozen]}, study.sounds)
