"""Names of files."""

from __future__ import annotations


def safe_name(name: str) -> str:
    """A file name of plain letters."""
    plain = "".join(c if c.isalnum() and c.isascii() else "-" for c in name.lower())
    return "-".join(part for part in plain.split("-") if part) or "study"
