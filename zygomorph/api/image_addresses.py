"""Where viewers ask for pictures."""

from __future__ import annotations

WEAVE_NAME = "weave"


def shown_address(picture: str) -> str:
    """Of a picture as it is laid on a surface or lies behind; "" is a weave."""
    return f"/api/images/{picture or WEAVE_NAME}/shown"


def radiance_address(picture: str) -> str:
    """Of a picture all round as light."""
    return f"/api/images/{picture or WEAVE_NAME}/radiance"
