"""A look as a glTF material, with the extensions that it needs (Khronos Group, glTF 2.0, and
KHR_materials_emissive_strength, _transmission, _volume, _ior, _clearcoat and _sheen; from memory).
"""

from __future__ import annotations

from typing import Any

import pygltflib as gl

from zygomorph.core.shared.material import Material
from zygomorph.core.values.gradients import parse_hex, to_linear

# Where nothing is said of it, glTF's own.
USUAL_REFRACTION = 1.5
# Glass that is drawn as a solid body needs a thickness; viewers that trace rays find the true one.
BODY_THICKNESS = 0.2


def _linear(colour: str) -> list[float]:
    return [float(c) for c in to_linear(parse_hex(colour))]


def gltf_material(name: str, material: Material, coloured: bool) -> gl.Material:
    """coloured : whether points have colours of their own, which then stand for the surface's."""
    glow, strength = _glow(material, coloured)
    found = gl.Material(
        name=name,
        # Light that goes through a body meets its surface from inside as well.
        doubleSided=material.glass <= 0 or material.thin,
        emissiveFactor=glow,
        pbrMetallicRoughness=gl.PbrMetallicRoughness(
            baseColorFactor=[
                *([1.0] * 3 if coloured else _linear(material.colour)),
                float(material.opacity),
            ],
            metallicFactor=float(material.metal),
            roughnessFactor=float(material.roughness),
        ),
    )
    found.alphaMode = "BLEND" if material.opacity < 1 else "OPAQUE"
    found.alphaCutoff = None
    found.extensions = _extensions(material, strength)
    return found


def _glow(material: Material, coloured: bool) -> tuple[list[float], float]:
    """Factors from 0 to 1, and the strength that they are multiplied by."""
    if material.glow <= 0 or (coloured and not material.glows_in_own):
        return [0.0, 0.0, 0.0], 1.0
    colour = material.glow_colour if material.glows_in_own else material.colour
    strength = max(material.glow, 1.0)
    return [c * min(material.glow, 1.0) for c in _linear(colour)], strength


def _extensions(material: Material, strength: float) -> dict[str, Any]:
    found: dict[str, Any] = {}
    if strength > 1:
        found["KHR_materials_emissive_strength"] = {"emissiveStrength": float(strength)}
    if material.glass > 0:
        found["KHR_materials_transmission"] = {"transmissionFactor": float(material.glass)}
        if not material.thin:
            found["KHR_materials_volume"] = {
                "thicknessFactor": BODY_THICKNESS,
                "attenuationDistance": float(material.tint_depth),
                "attenuationColor": _linear(material.tint),
            }
    if material.refraction != USUAL_REFRACTION:
        found["KHR_materials_ior"] = {"ior": float(material.refraction)}
    if material.coat > 0:
        found["KHR_materials_clearcoat"] = {
            "clearcoatFactor": float(material.coat),
            "clearcoatRoughnessFactor": float(material.coat_roughness),
        }
    if material.sheen > 0:
        colour = [c * float(material.sheen) for c in _linear(material.sheen_colour)]
        found["KHR_materials_sheen"] = {
            "sheenColorFactor": colour,
            "sheenRoughnessFactor": float(material.roughness),
        }
    return found
