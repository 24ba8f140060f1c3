"""What a value of a look has besides its layers where it goes by value: a gradient or the colours
of a picture, or a range."""

from __future__ import annotations

from dataclasses import replace

from zygomorph.core.values.value import Value, choice, gradient

GRADIENT = gradient("petal", "Gradient", "The colours from where its layers give 0 to where 1.")

COLOURED = choice(
    "gradient",
    "Colours",
    "Of a picture or film among its layers these may be its own; where it is see-through, the "
    "colour that the look has otherwise is seen.",
    {"gradient": "through the gradient", "picture": "as in the picture"},
)


def by_values(spec: Value) -> dict[str, Value]:
    """The values of a by-value entry of a declared value."""
    if spec.kind == "colour":
        return {"gradient": GRADIENT, "coloured": COLOURED}
    low, high = spec.soft
    plain = replace(spec, by=False, main=True, shown_when=None, idle=None)
    return {
        "low": replace(plain, default=low, label="At 0", help="Where its layers give 0."),
        "high": replace(plain, default=high, label="At 1", help="Where its layers give 1."),
    }
