"""What an entry of the library declares: one class for each sort of entry.

Whatever others need to know of an entry stands here, in the entry's own file. Nothing elsewhere
lists entries by name.
"""

from zygomorph.core.values.definitions.base import Definition, Discrete, FormulaUse, Sort
from zygomorph.core.values.definitions.form import FormDefinition
from zygomorph.core.values.definitions.layer_and_signal import (
    MaskDefinition,
    Seen,
    SignalDefinition,
    Slope,
)
from zygomorph.core.values.definitions.printed import Print
from zygomorph.core.values.definitions.shown import (
    BackdropDefinition,
    CameraDefinition,
    LightDefinition,
    LookDefinition,
    ShownDefinition,
)
from zygomorph.core.values.definitions.step import (
    MASK_INPUT,
    OFF,
    CopiesDefinition,
    DeformDefinition,
    ForceDefinition,
    Stands,
    StepDefinition,
    SystemDefinition,
    TopologyDefinition,
    follow_origin_apart,
)

__all__ = [
    "MASK_INPUT",
    "OFF",
    "BackdropDefinition",
    "CameraDefinition",
    "CopiesDefinition",
    "Definition",
    "DeformDefinition",
    "Discrete",
    "ForceDefinition",
    "FormDefinition",
    "FormulaUse",
    "LightDefinition",
    "LookDefinition",
    "MaskDefinition",
    "Print",
    "Seen",
    "ShownDefinition",
    "SignalDefinition",
    "Slope",
    "Sort",
    "Stands",
    "StepDefinition",
    "SystemDefinition",
    "TopologyDefinition",
    "follow_origin_apart",
]
