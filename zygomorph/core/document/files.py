"""Files that a study uses, by the SHA-256 of their bytes."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import Any

# As a whole text of a document: no name of a part is like this.
_DIGEST = re.compile(r'"([0-9a-f]{64})"')


def digests_in(document: Mapping[str, Any]) -> list[str]:
    """Digests that a document names, each once, in the order in which it names them first."""
    return list(dict.fromkeys(_DIGEST.findall(json.dumps(document))))
