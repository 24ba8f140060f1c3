"""The study that most figures are measured on."""

from __future__ import annotations

from typing import Any

from zygomorph.core.document.study import Study, check_document

OCTAVES = 4


def sample_study(halvings: int = 6) -> Study:
    """An icosphere (of 40,962 points) with four octaves of noise, a twist and a ball mask."""
    saw = {"signal": "cycle", "shape": "saw"}
    return check_document(
        {
            "format": "zygomorph-study",
            "version": 2,
            "name": "Bench",
            "pieces": [
                {
                    "id": "ball",
                    "name": "Ball",
                    "recipe": [
                        {"id": "form", "step": "icosphere", "values": {"halvings": halvings}},
                        {
                            "id": "push",
                            "step": "displace",
                            "values": {"octaves": OCTAVES, "travel": saw},
                            "where": {
                                "layers": [{"id": "l", "layer": "ball", "values": {"radius": 0.8}}]
                            },
                        },
                        {
                            "id": "twist",
                            "step": "twist",
                            "values": {"angle": {"signal": "cycle", "low": 0, "high": 90}},
                        },
                    ],
                }
            ],
        }
    )


def one_piece(*recipe: dict[str, Any]) -> Study:
    """A study of one piece "p" with these steps."""
    steps = [{"id": f"s{k}", **step} for k, step in enumerate(recipe)]
    piece = {"id": "p", "name": "Bench", "recipe": steps}
    head = {"format": "zygomorph-study", "version": 2, "name": "Bench"}
    return check_document({**head, "pieces": [piece]})
