"""The study that most figures are measured on."""

from __future__ import annotations

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
