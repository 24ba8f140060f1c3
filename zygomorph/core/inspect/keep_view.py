"""Making the view that somebody has of the stage that of a camera, once or by keys."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Literal

import numpy as np

from zygomorph.core.animation.resolve import is_moving
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parts import Part, roots
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.scene import camera_of
from zygomorph.core.geometry.affine import inverse
from zygomorph.core.transforms.world_transform import moving_parent

Triple = Sequence[float]
How = Literal["set", "key", "new"]
# A ten-thousandth of a millimetre is finer than any hand turns a view.
DIGITS = 7
# What a value says of where it is; the others of its values are not those of a view.
PLACES = (("position", "stands"), ("target", "aims"))


def keep_view(
    study: Study, position: Triple, target: Triple, frame: float, how: How = "set"
) -> list[dict[str, Any]]:
    """Edits after which the study's camera looks from one place at another at a frame.

    position, target : (3,) metres on the stage
    how : "set" holds it there, "key" sets keys of it at the frame, which is closed to a loop, and
        "new" makes another camera with that view, which is the study's from then on

    Raises ZygomorphError where the camera moves by itself, or cannot be aimed so.
    """
    if how == "new":
        return _new_camera(study, position, target)
    camera = camera_of(study.document)
    parent = moving_parent(study, camera.given, False)
    moved = np.eye(4) if parent is None else parent.motion(np.array([frame], np.float64))[0]
    back = inverse(moved)
    operations = []
    for name, chosen in PLACES:
        _free(camera, name, chosen)
        place = target if name == "target" else position
        own = _rounded(back[:3, :3] @ np.array(place, np.float64) + back[:3, 3])
        given = camera.given.get("values", {}).get(name, camera.sections[0].specs[name].default)
        if how == "set":
            value: Any = own
            if is_moving(given):
                raise ZygomorphError(
                    f"The {name} of “{camera.given['name']}” moves by itself.",
                    "Key the view instead (K), or hold it still first; a kept view would take away "
                    "what moves it.",
                )
        else:
            value = list(_keyed(camera, name, given, own, frame, study.loop))
        operations.append({"do": "set", "path": f"{camera.address}/values/{name}", "value": value})
    return operations


def _rounded(place: np.ndarray | Triple) -> list[float]:
    return [round(float(v), DIGITS) + 0.0 for v in place]


def _free(camera: Part, name: str, chosen: str) -> None:
    """Raises ZygomorphError where something else says where it is, or what it looks at."""
    given = camera.given.get("values", {}).get(chosen, "place")
    if given != "place":
        what = {"path": "is on a path", "anchor": "looks at a piece or marker"}.get(
            given, "looks the way it goes"
        )
        raise ZygomorphError(
            f"“{camera.given['name']}” {what}, so that its {name} is not its own.",
            "Keep the view as a new camera, or change that in the camera’s sheet.",
        )


def _keyed(
    camera: Part, name: str, given: Sequence[Any], own: Sequence[float], frame: float, loop: Loop
) -> Iterator[Mapping[str, Any]]:
    """The components of a place, each with a key at a frame."""
    for now, value in zip(given, own, strict=True):
        if is_moving(now) and now["signal"] != "keys":
            raise ZygomorphError(
                f"The {name} of “{camera.given['name']}” is moved by a signal that has no keys.",
                "Still it first, or keep the view as a new camera.",
            )
        yield _with_key(now, value, frame, loop)


def _with_key(now: Any, value: float, frame: float, loop: Loop) -> dict[str, Any]:
    """A number with a key at a frame; one that had none repeats once a loop, so that it closes."""
    if not is_moving(now):
        first = {"frame": frame, "value": value, "ease": "smooth"}
        if loop.one_way:
            return {"signal": "keys", "keys": [first]}
        last = {**first, "frame": frame + loop.frames}
        return {"signal": "keys", "before": "repeat", "after": "repeat", "keys": [first, last]}
    keys = sorted(now["keys"], key=lambda key: key["frame"])
    begin, end = keys[0]["frame"], keys[-1]["frame"]
    # The key that ends the loop is the one that begins it.
    whole = now.get("after") == "repeat" and end - begin == loop.frames
    at = begin + (frame - begin) % loop.frames if whole else frame
    ends = {begin, end} if whole and at == begin else {at}
    before = [key for key in keys if key["frame"] <= at] or keys[:1]
    kept = [key for key in keys if key["frame"] not in ends]
    ease = before[-1].get("ease", "smooth")
    made = [{"frame": each, "value": value, "ease": ease} for each in ends]
    return {**now, "keys": sorted([*kept, *made], key=lambda key: key["frame"])}


def _new_camera(study: Study, position: Triple, target: Triple) -> list[dict[str, Any]]:
    """Another camera beside the study's, with its lens, format and focus."""
    cameras = list(roots(study.document, "camera"))
    now = camera_of(study.document)
    ids, names = {each.id for each in cameras}, {each.given["name"] for each in cameras}
    number = next(n for n in range(2, len(cameras) + 3) if f"camera-{n}" not in ids)
    name = next(f"Camera {n}" for n in range(2, len(cameras) + 3) if f"Camera {n}" not in names)
    left = {"position", "target", "stands", "aims", "path", "rounds", "along", "aim"}
    values = {k: v for k, v in now.given.get("values", {}).items() if k not in left}
    values |= {"position": _rounded(position), "target": _rounded(target)}
    made = {"id": f"camera-{number}", "name": name, "camera": now.given["camera"], "values": values}
    return [
        {"do": "insert", "path": "/cameras", "after": cameras[-1].id, "item": made},
        {"do": "set", "path": "/camera", "value": made["id"]},
    ]
