"""A camera that goes through the inside of a closed piece."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.geometry.affine import unit
from zygomorph.core.inspect.findings.finding import Finding, Look
from zygomorph.core.inspect.findings.seen import Seen, seen
from zygomorph.core.inspect.rays import Ray, hit_of


def find(look: Look) -> Iterator[Finding]:
    camera = plan_camera(look.study)
    told = set()
    for each in seen(look):
        if each.piece in told or not _is_inside(each):
            continue
        told.add(each.piece)
        yield Finding(
            "camera_inside_a_piece",
            each.piece,
            "The camera is inside",
            f"At frame {each.frame:.0f} “{camera.part.given['name']}” is within this piece, and "
            "sees it from behind. Move one of them, or hide the piece.",
            address=f"{camera.part.address}/values/position",
            frame=each.frame,
        )


def _is_inside(each: Seen) -> bool:
    """Whether the first that a ray meets is a closed surface, from behind."""
    mesh = each.result.geometry.mesh
    if not (mesh.topology.closed or mesh.topology.closed_as_welded):
        return False
    way = unit(each.view.target - each.view.position)
    hit = hit_of(mesh, each.result.place, Ray(each.view.position, way))
    if hit is None:
        return False
    _, normal = hit.on(mesh.points)
    turned = each.result.place[:3, :3] @ normal
    return float(turned @ way) > 0
