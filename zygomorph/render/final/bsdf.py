"""The scattering functions of surfaces: diffuse, glossy, clear coat, sheen, and glass.

The model is that of glTF 2.0 in the form that the stage uses: Lambert under a GGX layer with
Fresnel's factor by Schlick (B. Walter et al., "Microfacet Models for Refraction through Rough
Surfaces", EGSR 2007), a clear coat of the same kind over it, and sheen by A. Estevez and C. Kulla,
"Production Friendly Microfacet Sheen BRDF", 2017. No plugin of Mitsuba has these parameters and
keeps all light: a white matt ball in white surroundings sends back 1.05 times what arrives by
"principled", and a rough one 0.33 times by "roughplastic".

Vectors are unit and point away from the surface; everything is in the space of the stage.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi

from zygomorph.render.final.arrays import tensor
from zygomorph.render.final.reflectance import LEAST_ROUGHNESS, SIZE, albedo_table
from zygomorph.render.final.surface_weights import LUMINANCE

# Below, glass is as smooth as a mirror.
SMOOTH = 0.03
SHEEN_ROUGHNESS = 0.5
COAT_F0 = 0.04


def luminance(colour: Any) -> Any:
    return colour.x * LUMINANCE[0] + colour.y * LUMINANCE[1] + colour.z * LUMINANCE[2]


@dataclass
class Matter:
    """What a surface is made of where a path meets it; see
    :class:`zygomorph.core.shared.material.Material`. sheen : its colour times its amount"""

    colour: Any
    roughness: Any
    metal: Any
    refraction: Any
    coat: Any
    coat_roughness: Any
    sheen: Any


class Parts:
    """Which lobes occur in a picture; the others are not compiled."""

    def __init__(self, coat: bool, sheen: bool) -> None:
        self.coat, self.sheen = coat, sheen
        self._table = mi.Texture2f(tensor(albedo_table()), wrap_mode=dr.WrapMode.Clamp)

    def albedos(self, roughness: Any, cosine: Any) -> tuple[Any, Any]:
        """A and B, see :mod:`zygomorph.render.final.reflectance`."""
        # Textures have their numbers in the middles of pixels.
        scale, shift = (SIZE - 1) / SIZE, 0.5 / SIZE
        a, b = self._table.eval(mi.Point2f(cosine * scale + shift, roughness * scale + shift))
        return a, b


def schlick(f0: Any, cosine: Any) -> Any:
    away = dr.clip(1 - cosine, 0, 1)
    fifth = dr.square(dr.square(away)) * away
    return f0 + (1 - f0) * fifth


def _spread(alpha: Any, nh: Any) -> Any:
    a2 = dr.square(alpha)
    return a2 / (dr.pi * dr.square(dr.square(nh) * (a2 - 1) + 1))


def _masked(alpha: Any, nl: Any, nv: Any) -> Any:
    """Smith masking of both directions over 4 · nl · nv (height-correlated)."""
    a2 = dr.square(alpha)
    both = nl * dr.sqrt(a2 + (1 - a2) * dr.square(nv)) + nv * dr.sqrt(a2 + (1 - a2) * dr.square(nl))
    return 0.5 / dr.maximum(both, 1e-9)


def _visible_pdf(alpha: Any, nh: Any, nv: Any) -> Any:
    """Density of a direction that was sampled by a visible normal, per steradian."""
    a2 = dr.square(alpha)
    one = nv + dr.sqrt(a2 + (1 - a2) * dr.square(nv))
    return _spread(alpha, nh) / (2 * dr.maximum(one, 1e-9))


def visible_normal(frame: Any, v: Any, alpha: Any, at: Any) -> Any:
    """Samples the distribution of normals visible from v (E. Heitz, JCGT 2018).

    frame : shading frame; at : point in the unit square"""
    own = frame.to_local(v)
    bent = dr.normalize(mi.Vector3f(own.x * alpha, own.y * alpha, dr.maximum(own.z, 1e-6)))
    length = dr.sqrt(dr.square(bent.x) + dr.square(bent.y))
    flat = length < 1e-7
    across = mi.Vector3f(
        dr.select(flat, 1.0, -bent.y / dr.maximum(length, 1e-9)),
        dr.select(flat, 0.0, bent.x / dr.maximum(length, 1e-9)),
        0.0,
    )
    along = dr.cross(bent, across)
    radius, angle = dr.sqrt(at.x), dr.two_pi * at.y
    sine, cosine = dr.sincos(angle)
    x, y = radius * cosine, radius * sine
    share = 0.5 * (1 + bent.z)
    y = (1 - share) * dr.safe_sqrt(1 - dr.square(x)) + share * y
    z = dr.safe_sqrt(1 - dr.square(x) - dr.square(y))
    found = across * x + along * y + bent * z
    facet = mi.Vector3f(found.x * alpha, found.y * alpha, dr.maximum(found.z, 1e-6))
    return frame.to_world(dr.normalize(facet))


def _alpha(roughness: Any) -> Any:
    return dr.square(dr.maximum(roughness, LEAST_ROUGHNESS))


class Opaque:
    """The scattering function of opaque surfaces for one outgoing direction.

    n : shading normal on the side of v
    """

    def __init__(self, parts: Parts, matter: Matter, n: Any, v: Any) -> None:
        self._parts, self._matter = parts, matter
        self._n, self._v = n, v
        self._nv = dr.maximum(dr.dot(n, v), 1e-4)
        ratio = (matter.refraction - 1) / (matter.refraction + 1)
        dielectric = dr.minimum(dr.square(ratio), 1.0)
        self._f0 = mi.Color3f(dielectric) + (matter.colour - dielectric) * matter.metal
        a, b = parts.albedos(matter.roughness, self._nv)
        lost = 1 / dr.maximum(a + b, 1e-3) - 1
        self._more = 1 + self._f0 * lost
        sent = (dielectric * a + b) * (1 + dielectric * lost)
        self._matt = matter.colour * ((1 - matter.metal) * dr.clip(1 - sent, 0, 1))
        shine = luminance((self._f0 * a + b) * self._more)
        matt = luminance(self._matt)
        self._shares = dr.clip(shine / dr.maximum(shine + matt, 1e-6), 0.1, 0.9)
        # Without anything matt there is nothing to look for all round.
        self._shares = dr.select(matt < 1e-4, 1.0, self._shares)
        if parts.sheen:
            soft = luminance(matter.sheen) > 0
            self._shares = dr.select(soft, dr.minimum(self._shares, 0.5), self._shares)
        self._coat_share = mi.Float(0.0)
        if parts.coat:
            self._coat_f = schlick(COAT_F0, self._nv)
            self._coat_share = dr.select(
                matter.coat > 0, dr.clip(matter.coat * self._coat_f * 2, 0.1, 0.5), 0.0
            )

    def sent(self, light: Any) -> tuple[Any, Any]:
        """Value of the function times the cosine, for light from a direction, and the density with
        which :meth:`sample` finds that direction, per steradian."""
        matter, nv = self._matter, self._nv
        nl = dr.dot(self._n, light)
        valid = nl > 0
        nl = dr.maximum(nl, 1e-6)
        h = dr.normalize(light + self._v)
        nh, vh = dr.clip(dr.dot(self._n, h), 0, 1), dr.clip(dr.dot(self._v, h), 0, 1)
        alpha = _alpha(matter.roughness)
        shine = schlick(self._f0, vh) * (_spread(alpha, nh) * _masked(alpha, nl, nv)) * self._more
        total = shine + self._matt * dr.inv_pi
        if self._parts.sheen:
            total = self._under_sheen(total, nl, nh)
        pdf = self._shares * _visible_pdf(alpha, nh, nv) + (1 - self._shares) * nl * dr.inv_pi
        if self._parts.coat:
            coat_alpha = _alpha(matter.coat_roughness)
            coat = schlick(COAT_F0, vh) * _spread(coat_alpha, nh) * _masked(coat_alpha, nl, nv)
            total = total * (1 - matter.coat * self._coat_f) + coat * matter.coat
            own = _visible_pdf(coat_alpha, nh, nv)
            pdf = pdf * (1 - self._coat_share) + own * self._coat_share
        return dr.select(valid, total * nl, 0), dr.select(valid, pdf, 0)

    def _under_sheen(self, total: Any, nl: Any, nh: Any) -> Any:
        sheen, nv = self._matter.sheen, self._nv
        per = 1 / SHEEN_ROUGHNESS**2
        sine2 = dr.maximum(1 - dr.square(nh), 2.0**-7)
        spread = (2 + per) * dr.power(sine2, per * 0.5) * dr.inv_two_pi
        seen = dr.minimum(0.25 / dr.maximum(nl + nv - nl * nv, 1e-6), 1.0)
        kept = 1 - dr.max(sheen) * dr.maximum(_sheen_albedo(nv), _sheen_albedo(nl))
        return total * kept + sheen * (spread * seen)

    def sample(self, frame: Any, lobe: Any, at: Any) -> Any:
        """Samples an incoming direction. lobe : uniform number that chooses the lobe; at : point in
        the unit square"""
        coated = lobe < self._coat_share
        own = (lobe - self._coat_share) / dr.maximum(1 - self._coat_share, 1e-6)
        rough = self._matter.roughness
        if self._parts.coat:
            rough = dr.select(coated, self._matter.coat_roughness, rough)
        shiny = coated | (own < self._shares)
        h = visible_normal(frame, self._v, _alpha(rough), at)
        mirrored = h * (2 * dr.dot(self._v, h)) - self._v
        matt = frame.to_world(mi.warp.square_to_cosine_hemisphere(at))
        return dr.select(shiny, mirrored, matt)


def _sheen_albedo(cosine: Any) -> Any:
    """A fit of the sheen's directional albedo, which the stage has too (three.js, IBLSheenBRDF)."""
    r = SHEEN_ROUGHNESS
    per = 1 / (r + 0.1)
    a = -1.9362 + 1.0678 * r + 0.4573 * r * r - 0.8469 * per
    b = -0.6014 + 0.5538 * r - 0.4670 * r * r - 0.1255 * per
    return dr.clip(dr.exp(a * cosine + b), 0, 1)


@dataclass
class Passage:
    """Scattering by glass.

    way : unit direction; weight : of the throughput; through : whether it is refracted
    smooth : whether the lobe is a delta"""

    way: Any
    weight: Any
    through: Any
    smooth: Any


def through_glass(
    matter: Matter, frame: Any, v: Any, outside: Any, thin: Any, choice: Any, at: Any
) -> Passage:
    """Samples reflection or refraction at a glass surface, by Fresnel's equations.

    frame : shading frame on the side of v; outside : whether v is outside of the body
    choice : uniform number that chooses between the two
    """
    smooth = matter.roughness < SMOOTH
    alpha = _alpha(matter.roughness)
    h = dr.select(smooth, frame.n, visible_normal(frame, v, alpha, at))
    eta = dr.select(outside | thin, matter.refraction, 1 / matter.refraction)
    reflected, _, inverse = _fresnel(dr.clip(dr.dot(v, h), 0, 1), eta)
    # Light goes to and fro between both sides of a thin sheet.
    reflected = dr.select(thin, 2 * reflected / (1 + reflected), reflected)
    back = choice < reflected
    mirrored = h * (2 * dr.dot(v, h)) - v
    cosine = dr.dot(v, h)
    inside = dr.safe_sqrt(1 - dr.square(inverse) * (1 - dr.square(cosine)))
    bent = dr.normalize(h * (inverse * cosine - inside) - v * inverse)
    straight = mirrored - frame.n * (2 * dr.dot(mirrored, frame.n))
    way = dr.select(back, mirrored, dr.select(thin, straight, bent))
    nl, nv = dr.abs(dr.dot(frame.n, way)), dr.maximum(dr.dot(frame.n, v), 1e-4)
    a2 = dr.square(alpha)
    one = nv + dr.sqrt(a2 + (1 - a2) * dr.square(nv))
    kept = dr.select(smooth, 1.0, 2 * nl * one * _masked(alpha, dr.maximum(nl, 1e-6), nv))
    weight = dr.select(back, mi.Color3f(1.0), matter.colour) * dr.clip(kept, 0, 1)
    return Passage(way, weight, ~back, smooth)


def mirrored_way(matter: Matter, frame: Any, v: Any, at: Any) -> Any:
    """Samples the reflection of mirroring ground, blurred by its roughness."""
    smooth = matter.roughness < SMOOTH
    h = dr.select(smooth, frame.n, visible_normal(frame, v, _alpha(matter.roughness), at))
    return h * (2 * dr.dot(v, h)) - v


def _fresnel(cosine: Any, eta: Any) -> tuple[Any, Any, Any]:
    reflected, cosine_t, _, inverse = mi.fresnel(cosine, eta)
    return reflected, cosine_t, inverse


def glass_highlight(matter: Matter, n: Any, v: Any, light: Any) -> Any:
    """Glossy reflection of a sampled lamp by glass, times the cosine."""
    nl, nv = dr.dot(n, light), dr.maximum(dr.dot(n, v), 1e-4)
    h = dr.normalize(light + v)
    alpha = _alpha(matter.roughness)
    spread = _spread(alpha, dr.clip(dr.dot(n, h), 0, 1))
    reflected, *_ = mi.fresnel(dr.clip(dr.dot(v, h), 0, 1), matter.refraction)
    found = reflected * spread * _masked(alpha, dr.maximum(nl, 1e-6), nv) * nl
    return dr.select(nl > 0, found, 0.0)
