"""Draw docs/house.svg: the layers of the program and what they import, from the code itself."""

from __future__ import annotations

import sys
from html import escape
from pathlib import Path

import grimp

ROOT = Path(__file__).parents[1]
PICTURE = ROOT / "docs" / "house.svg"
PACKAGE = "zygomorph"
# From top to bottom, as pyproject.toml has them for import-linter, with a word on each.
OUTER = [
    ["cli", "bench", "api"],
    ["jobs", "render", "store"],
]
CORE = {
    "formats": "files and frames in and out",
    "inspect": "seam, table, picking, findings, sentences",
    "evaluation": "plan, keys, evaluator, state history",
    "registry": "finds the entries",
    "library": "one file an entry",
    "shared": "what several entries share",
    "masking": "layers, profiles, memory, brush",
    "transforms": "world transforms, parents",
    "animation": "signals, loop closure, sound",
    "document": "schema, study, parts, edits",
    "values": "kinds, definitions, formulas",
    "geometry": "mesh, topology, search, repair",
    "kernels": "compiled loops, noise",
    "memo": "what is kept",
}
WIDE, HIGH, GAP = 760, 30, 8


def _imports(graph: grimp.ImportGraph, above: str, below: str) -> int:
    """How many modules of one package import how many of another."""
    names = (graph.find_descendants(below) or set()) | {below}
    return sum(
        len(graph.find_modules_directly_imported_by(module) & names)
        for module in (graph.find_descendants(above) or set()) | {above}
    )


def _row(y: int, title: str, text: str, uses: list[tuple[str, int]]) -> list[str]:
    used = ", ".join(f"{name} {count}" for name, count in uses)
    return [
        f'<rect x="0" y="{y}" width="{WIDE}" height="{HIGH}" rx="4"/>',
        f'<text x="12" y="{y + 20}" class="name">{escape(title)}</text>',
        f'<text x="120" y="{y + 20}">{escape(text)}</text>',
        f'<text x="{WIDE - 12}" y="{y + 20}" class="uses">{escape(used)}</text>',
    ]


def drawn() -> str:
    """The picture as SVG: a row a layer; to the right, what it imports most and how often."""
    graph = grimp.build_graph(PACKAGE)
    lines, y = [], 0
    for row in OUTER:
        uses = [("core", sum(_imports(graph, f"{PACKAGE}.{n}", f"{PACKAGE}.core") for n in row))]
        lines += _row(y, ", ".join(row), "", uses)
        y += HIGH + GAP
    names = list(CORE)
    for place, (name, text) in enumerate(CORE.items()):
        above = f"{PACKAGE}.core.{name}"
        found = [(n, _imports(graph, above, f"{PACKAGE}.core.{n}")) for n in names[place + 1 :]]
        lines += _row(y, name, text, sorted((u for u in found if u[1]), key=lambda u: -u[1])[:4])
        y += HIGH + GAP
    style = (
        "rect{fill:#f6f1e7;stroke:#cfc5b2}text{font:13px sans-serif;fill:#3a3326}"
        ".name{font-weight:600}.uses{text-anchor:end;fill:#7a705c;font-size:12px}"
    )
    head = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="-1 -1 {WIDE + 2} {y - GAP + 2}">'
    return "\n".join([head, f"<style>{style}</style>", *lines, "</svg>", ""])


if __name__ == "__main__":
    PICTURE.write_text(drawn())
    sys.stdout.write(f"{PICTURE.relative_to(ROOT)}\n")
