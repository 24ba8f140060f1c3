"""What a form declares."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from zygomorph.core.values.definitions.base import Definition
from zygomorph.core.values.specimen import DEFAULT_SPECIMEN, Specimen


@dataclass(frozen=True, kw_only=True)
class FormDefinition(Definition):
    """``apply(values, context) -> Mesh``.

    brought_in : of a form that shows a file, ``(values, context) -> Mesh`` with the repairs that
        were taken, in the file's own unit and place
    turns_faces : name of the switch that turns its faces outwards, or ""
    specimen : what its picture shows where its defaults do not suit it
    """

    sort = "form"
    brought_in: Callable[..., Any] | None = None
    turns_faces: str = ""
    specimen: Specimen = DEFAULT_SPECIMEN

    @property
    def changes_topology(self) -> bool:
        return True
