"""A closed surface that is inside out, or a piece that its place turns inside out."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.values.definitions import FormDefinition


def signed_volume(mesh: Mesh) -> float:
    """Volume by the divergence theorem, m³; below 0 where faces look inwards."""
    triangles = mesh.topology.triangles(mesh.points)
    # Columns apart: with arrays of three numbers a point NumPy takes five times as long.
    x, y, z = np.ascontiguousarray((mesh.points - mesh.points.mean(axis=0)).T)
    a, b, c = np.ascontiguousarray(triangles.T)
    ax, ay, az, bx, by, bz, cx, cy, cz = (v[k] for k in (a, b, c) for v in (x, y, z))
    six = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
    return float(six.sum(dtype=np.float64) / 6)


def _inside_out(look: Look, piece: str) -> Iterator[Finding]:
    steps = look.plan(piece).steps
    found = look.result(piece, steps[-1].id)
    size = float(np.prod(found.high - found.low))
    if not found.mesh.topology.closed:
        return
    if signed_volume(found.mesh) >= -1e-6 * max(size, 1e-12):
        return
    at_form = signed_volume(look.form(piece).mesh) < 0
    form = steps[0].definition
    turns_faces = form.turns_faces if isinstance(form, FormDefinition) else ""
    path = f"/pieces/{piece}/recipe/{steps[0].id}/values/{turns_faces}"
    can_turn = at_form and turns_faces
    yield Finding(
        "turned_over_faces",
        piece,
        "The surface is inside out",
        "Its faces look inwards: pushes along the normals go the wrong way, and light falls on the "
        "wrong side.",
        steps[0].id if at_form else steps[-1].id,
        fix=Fix("Turn the faces outwards", [set_value(path, True)]) if can_turn else None,
    )


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        plan = look.plan(piece["id"])
        if look.form(piece["id"]).mesh.topology.closed:
            yield from _inside_out(look, piece["id"])
        place = plan.place_at(np.zeros(1))
        if np.linalg.det(place[:3, :3]) < 0:
            path = f"/pieces/{piece['id']}/place/scale"
            scale = [
                abs(float(v))
                for v in plan.world.own.still.numbers.get("scale", np.ones((3, 1)))[:, 0]
            ]
            still = not any(name == "scale" for name, _ in plan.world.own.moving)
            yield Finding(
                "turned_over_faces",
                piece["id"],
                "The piece's scale turns it inside out",
                "A scale below 0 mirrors the piece, and its faces look inwards.",
                address=path,
                fix=Fix("Scale it above 0", [set_value(path, scale)]) if still else None,
            )
