"""What signals may know besides their own values: other values of the study, and its sounds."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from zygomorph.core.values.sound.bundled import MADE
from zygomorph.core.values.sound.track import Track

Sounds = Callable[[str], Track | None]


def made_sounds(name: str) -> Track | None:
    """Sounds that come with the program; None of all others."""
    make = MADE.get(name)
    return make() if make else None


@dataclass(frozen=True)
class SignalContext:
    """document : the study, for links
    sound : a sound by its digest, or by the name of one that comes with the program; None where
        it is not stored
    final : at final quality
    trail : addresses of the values that led here, each of which follows the next
    """

    document: Mapping[str, Any] = field(default_factory=dict)
    sound: Sounds = made_sounds
    final: bool = False
    trail: tuple[str, ...] = ()

    def beyond(self, address: str) -> SignalContext:
        """For what a link to an address follows."""
        return replace(self, trail=(*self.trail, address))


NO_CONTEXT = SignalContext()
