"""Values at frames, of which some signals have lists."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field

from zygomorph.core.values.kinds.kind import Finite, Strict

Frame = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6, strict=True)]


class Key(Strict):
    """A value at a frame. in, out : slopes before and after it, in value per frame, where they are
    set by hand"""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)
    frame: Frame
    value: Finite
    ease: Literal["linear", "smooth", "held"] = "smooth"
    in_: Annotated[Finite | None, Field(alias="in")] = None
    out: Finite | None = None


class RateKey(Strict):
    frame: Frame
    value: Finite


# As fields of a pydantic model: the type and the default, which is missing where there is none.
RATES: tuple[Any, Any] = (Annotated[list[RateKey], Field(max_length=1000)], [])
KEYS: tuple[Any, Any] = (Annotated[list[Key], Field(min_length=1, max_length=10_000)], ...)
