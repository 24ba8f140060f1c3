"""Web pages that are one file each, to send to somebody: a loop as a clip, or as a model to turn.

All that they need is in them, and their content policy lets them load nothing else.
"""

from __future__ import annotations

import base64
import html
import json
from collections.abc import Mapping
from typing import Any

POLICY = (
    "default-src 'none'; script-src 'unsafe-inline'; style-src 'unsafe-inline'; "
    "img-src data: blob:; media-src data:; connect-src data: blob:"
)
STYLE = """
:root { color-scheme: dark; }
* { box-sizing: border-box; }
html, body { height: 100%; margin: 0; }
body { display: flex; flex-direction: column; font: 15px/1.4 system-ui, sans-serif;
  color: #f3eef7; background: #17131f; }
header { padding: 12px 20px; font: 20px Georgia, "Times New Roman", serif; }
#stage, main { flex: 1; min-height: 0; position: relative; display: grid; place-items: center; }
#stage canvas { position: absolute; inset: 0; width: 100%; height: 100%; touch-action: none;
  cursor: grab; outline-offset: -3px; }
#stage canvas:active { cursor: grabbing; }
video { max-width: 100%; max-height: 100%; display: block; }
#bar { display: flex; align-items: center; gap: 14px; padding: 10px 20px 14px; }
#bar button { width: 40px; height: 32px; border: 1px solid #ffffff40; border-radius: 8px;
  background: #2a2436; color: inherit; font-size: 13px; cursor: pointer; }
#bar input { flex: 1; accent-color: #e7a6c8; }
#bar output { min-width: 56px; text-align: right; font-variant-numeric: tabular-nums; }
#wrong { position: absolute; padding: 16px; color: #ffcabb; }
#wrong:empty { display: none; }
"""


def model_page(name: str, glb: bytes, scene: Mapping[str, Any], script: str) -> str:
    """A page with a model that plays and can be turned.

    scene : what the viewer is told, see web/src/viewer/told.ts
    script : of the viewer
    """
    # What ends a script must not stand in it.
    inlined = script.replace("</script", "<\\/script")
    return _page(
        name,
        '<div id="stage"><p id="wrong" role="alert"></p></div>\n'
        '<div id="bar"><button type="button" aria-label="Play">▶</button>'
        '<input type="range" min="0" max="1" step="any" value="0" aria-label="Moment of the loop">'
        "<output></output></div>\n"
        f'<script type="application/json" id="study">{_as_json(scene)}</script>\n'
        '<script type="application/octet-stream" id="model">'
        f"{base64.b64encode(glb).decode()}</script>\n"
        f"<script>{inlined}</script>",
    )


def clip_page(name: str, clip: bytes, media_type: str, size: tuple[int, int]) -> str:
    """A page with a clip that goes round. size : (columns, rows)"""
    data = base64.b64encode(clip).decode()
    return _page(
        name,
        f'<main><video width="{size[0]}" height="{size[1]}" autoplay loop muted playsinline '
        f'controls aria-label="{html.escape(name)}" src="data:{media_type};base64,{data}"></video>'
        "</main>",
    )


def _page(name: str, body: str) -> str:
    title = html.escape(name)
    return (
        '<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n'
        f'<meta http-equiv="Content-Security-Policy" content="{POLICY}">\n'
        '<meta name="viewport" content="width=device-width, initial-scale=1">\n'
        f"<title>{title}</title>\n<style>{STYLE}</style>\n</head>\n"
        f"<body>\n<header>{title}</header>\n{body}\n</body>\n</html>\n"
    )


def _as_json(value: Mapping[str, Any]) -> str:
    """JSON that may stand in a page, whatever its texts are."""
    return json.dumps(value, ensure_ascii=False).replace("<", "\\u003c")
