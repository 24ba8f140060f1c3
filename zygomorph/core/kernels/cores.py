"""How many cores kernels may use.

Apart from :mod:`zygomorph.core.kernels.compiled`: whoever imports that is taken for a source of
kernels, which are compiled anew whenever it changes.
"""

from __future__ import annotations

from zygomorph.core.kernels import compiled

CORES: int = compiled.CORES
