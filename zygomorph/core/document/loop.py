"""The loop: F frames at R frames a second; frame F is frame 0 again, unless it plays one way."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Loop:
    """frames : whole number of frames; rate : frames a second
    one_way : it plays from its first frame to its last, and need not come back
    """

    frames: int = 240
    rate: float = 24.0
    one_way: bool = False

    @property
    def seconds(self) -> float:
        return self.frames / self.rate

    @property
    def last(self) -> int:
        """The last frame of an animation that is kept: with it a loop has come back to its
        beginning, and what plays one way has come to its end."""
        return max(self.frames - 1, 0) if self.one_way else self.frames

    def played(self, frame: int) -> int:
        """The frame from 0 to F that is seen at a frame before or after the loop, as it is played
        again and again; of what plays one way, that frame itself."""
        if self.one_way or 0 <= frame <= self.frames:
            return frame
        return frame % self.frames if frame < 0 else (frame - 1) % self.frames + 1
