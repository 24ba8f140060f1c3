"""A surface of metal, glass, cloth or anything between, that may glow; curves and loose points."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.lit_spheres import SPHERES
from zygomorph.core.shared.material import Material
from zygomorph.core.values.definitions import LookDefinition
from zygomorph.core.values.value import Value, choice, colour, image, number


def apply(values: Resolved) -> Material:
    on_screen = values.discrete("size_in") == "pixels"

    def share(name: str) -> float:
        return values.scalar(name) / 100

    return Material(
        colour=values.discrete("colour"),
        glow_colour=values.discrete("glow_colour"),
        glows_in_own=values.discrete("glows_in") == "own",
        roughness=share("roughness"),
        metal=share("metal"),
        opacity=share("opacity"),
        glow=share("glow"),
        glass=share("glass"),
        coat=share("coat"),
        sheen=share("sheen"),
        size=values.scalar("pixels" if on_screen else "size"),
        refraction=values.scalar("refraction"),
        tint=values.discrete("tint"),
        tint_depth=values.scalar("tint_depth"),
        thin=values.discrete("walls") == "thin",
        coat_roughness=share("coat_roughness"),
        sheen_colour=values.discrete("sheen_colour"),
        on_screen=on_screen,
        dots=values.discrete("dots"),
        drawn=values.discrete("drawn"),
        flat=values.discrete("shading") == "flat",
        edge_colour=values.discrete("edge_colour"),
        sphere=_sphere(values),
    )


def _sphere(values: Resolved) -> str | None:
    """Name of the picture of a ball, "" of the weave; None where lights light it."""
    if values.discrete("lit") == "lights":
        return None
    chosen: str = values.discrete("sphere")
    return values.discrete("sphere_picture") if chosen == "own" else chosen


def amount(name: str) -> tuple[str, float]:
    """What of the material a value is, and how much of it one unit of the value is."""
    return ("size", 1.0) if name in ("size", "pixels") else (name, 0.01)


def _percent(default: float, label: str, help: str, **more: object) -> Value:
    return number(default, label, help, "%", (0.0, 100.0), hard=(0.0, 100.0), by=True, **more)


# A new piece shows its form by the height in the piece.
BY_HEIGHT = {
    "id": "colour",
    "values": {},
    "where": {
        "layers": [
            {
                "id": "by",
                "layer": "height",
                "profile": "linear",
                "values": {
                    "range": "set",
                    "bottom": -0.5,
                    "top": 0.5,
                    "axis": [0.0, 1.0, 0.0],
                },
            }
        ]
    },
}

DEFINITION = LookDefinition(
    key="surface",
    title="Surface",
    help="Colour, metal, glass, glow and roughness of the surface.",
    values={
        "colour": colour("#c98f6b", "Colour", "The colour of the surface.", by=True),
        "roughness": _percent(55.0, "Roughness", "From mirror-like to chalky."),
        "metal": _percent(
            0.0, "Metal", "Throws light back in its own colour, as metals do.", idle=0.0
        ),
        "glow": number(
            0.0,
            "Glow",
            "Light of its own.",
            "%",
            (0.0, 200.0),
            hard=(0.0, 10_000.0),
            by=True,
            idle=0.0,
        ),
        "glass": _percent(0.0, "Glass", "How much of the light goes through.", idle=0.0),
        "opacity": _percent(
            100.0, "Opacity", "How much it hides of what is behind it.", idle=100.0
        ),
        "drawn": choice(
            "surface",
            "Drawn as",
            "What of a mesh is drawn; the first look decides.",
            {
                "surface": "a surface",
                "edges": "a surface with its edges",
                "lines": "its edges",
                "points": "its points",
            },
        ),
        "edge_colour": colour(
            "#f4eefb",
            "Edge colour",
            "The colour of the edges over the surface.",
            shown_when=("drawn", ("edges",)),
        ),
        "glows_in": choice(
            "surface",
            "Glows in",
            "The colour of its own light.",
            {"surface": "the surface's colour", "own": "a colour of its own"},
            main=False,
        ),
        "glow_colour": colour(
            "#ffb45c",
            "Glow colour",
            "The colour of its own light.",
            by=True,
            main=False,
            shown_when=("glows_in", ("own",)),
        ),
        "refraction": number(
            1.5,
            "Refraction",
            "Index of refraction: water 1.33, window glass 1.5, diamond 2.4.",
            "",
            (1.0, 2.5),
            hard=(1.0, 5.0),
            main=False,
        ),
        "walls": choice(
            "solid",
            "Walls",
            "A solid body bends the light that goes through; a thin sheet does not.",
            {"solid": "a solid body", "thin": "a thin sheet"},
            main=False,
        ),
        "tint": colour(
            "#ffffff",
            "Tint",
            "The colour that white light takes on its way through glass.",
            main=False,
        ),
        "tint_depth": number(
            0.5,
            "Tinted after",
            "The way through glass after which light has the tint.",
            "m",
            (0.01, 5.0),
            scale="log",
            hard=(1e-4, 1e4),
            main=False,
        ),
        "coat": _percent(0.0, "Clear coat", "A clear layer of varnish over it.", main=False),
        "coat_roughness": number(
            10.0,
            "Coat roughness",
            "Of the clear coat, from mirror-like to dull.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            main=False,
        ),
        "sheen": _percent(
            0.0, "Sheen", "A soft shine where it turns away, as of velvet.", main=False
        ),
        "sheen_colour": colour("#ffffff", "Sheen colour", "The colour of the sheen.", main=False),
        "lit": choice(
            "lights",
            "Lit by",
            "By the study's lights, or as a ball in a picture is lit, whatever the lights are; the "
            "picture is then times the colour.",
            {"lights": "the lights", "sphere": "a picture of a ball"},
            main=False,
        ),
        "sphere": choice(
            "porcelain",
            "Ball",
            "What faces a way looks as the ball does there.",
            {**SPHERES, "own": "a picture of your own"},
            main=False,
            shown_when=("lit", ("sphere",)),
        ),
        "sphere_picture": image(
            "Picture of a ball",
            "A square picture that the ball fills.",
            main=False,
            shown_when=("sphere", ("own",)),
        ),
        "size_in": choice(
            "metres",
            "Size in",
            "What the width of lines and the size of points are measured in.",
            {"metres": "metres", "pixels": "pixels of the screen"},
            main=False,
        ),
        "size": number(
            0.008,
            "Thickness",
            "Width of curves and edges and size of loose points; neither is drawn thinner than it "
            "can be seen.",
            "m",
            (0.001, 0.1),
            scale="log",
            hard=(0.0, 1e3),
            by=True,
            main=False,
            shown_when=("size_in", ("metres",)),
        ),
        "pixels": number(
            2.0,
            "Thickness",
            "Width of lines and size of points, the same near and far.",
            "px",
            (1.0, 40.0),
            scale="log",
            hard=(0.5, 1000.0),
            by=True,
            main=False,
            shown_when=("size_in", ("pixels",)),
        ),
        "dots": choice(
            "balls",
            "Points as",
            "How loose points are drawn.",
            {"balls": "little balls", "discs": "flat discs", "squares": "squares"},
            main=False,
        ),
        "shading": choice(
            "smooth",
            "Shading",
            "Round the surface over its faces, or show them.",
            {"smooth": "smooth", "flat": "flat"},
            main=False,
        ),
    },
    sentence="Colour {colour}[, metal {metal}][, glass {glass}][, glow {glow}]"
    "[, opacity {opacity}]",
    apply=apply,
    amount=amount,
    begins=({"id": "surface", "by": [BY_HEIGHT]},),
)
