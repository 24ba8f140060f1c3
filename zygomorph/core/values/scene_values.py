"""Values of the ground and of the finish of the picture, of which a study has one each."""

from __future__ import annotations

from zygomorph.core.values.value import Value, choice, colour, number

_SHADOWED, _SOLID = ("ground", ("shadow", "plane", "mirror")), ("ground", ("plane", "mirror"))

GROUND_VALUES: dict[str, Value] = {
    "ground": choice(
        "shadow",
        "Ground",
        "What the pieces stand on.",
        {
            "none": "none",
            "shadow": "their shadow only",
            "plane": "a plane",
            "mirror": "a plane that mirrors them",
        },
    ),
    "height": choice(
        "found",
        "Height",
        "Where it lies.",
        {"found": "under what is shown", "set": "where you say"},
        shown_when=_SHADOWED,
    ),
    "level": number(
        -0.5, "Level", "Its height on the stage.", "m", (-2.0, 2.0), shown_when=("height", ("set",))
    ),
    "shadow": number(
        32.0,
        "Shadow",
        "How dark the shadow on it is.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        shown_when=("ground", ("shadow",)),
    ),
    "colour": colour("#3a3446", "Colour", "The colour of the plane.", shown_when=_SOLID),
    "roughness": number(
        60.0,
        "Roughness",
        "From mirror-like to chalky.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        shown_when=_SOLID,
    ),
    "mirror": number(
        60.0,
        "Mirrors",
        "How much of what stands on it is seen in it.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        shown_when=("ground", ("mirror",)),
    ),
}

FINISH_VALUES: dict[str, Value] = {
    "exposure": number(
        0.11,
        "Exposure",
        "Each step of 1 is twice the light.",
        "EV",
        (-3.0, 3.0),
        hard=(-20.0, 20.0),
    ),
    "contrast": number(
        0.0,
        "Contrast",
        "Above 0 darks are darker and lights lighter.",
        "%",
        (-50.0, 50.0),
        hard=(-100.0, 100.0),
        idle=0.0,
    ),
    "bloom": number(
        0.0,
        "Bloom",
        "A soft shine around what is very bright.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 400.0),
        idle=0.0,
    ),
    "bloom_from": number(
        80.0,
        "Blooms from",
        "How bright something is before it shines so; 100 is white.",
        "%",
        (0.0, 200.0),
        hard=(0.0, 10_000.0),
        main=False,
    ),
    "bloom_size": number(
        40.0,
        "Bloom size",
        "How far the shine reaches.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        main=False,
    ),
    "occlusion": number(
        0.0,
        "Corners",
        "Ambient occlusion: how much darker it is where surfaces are close.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        idle=0.0,
    ),
    "occlusion_radius": number(
        0.15,
        "Corner size",
        "How far from one another surfaces darken each other.",
        "m",
        (0.01, 1.0),
        hard=(1e-4, 100.0),
        scale="log",
        main=False,
    ),
    "trails": number(
        0.0,
        "Trails",
        "How much of each picture is left one frame later. In deliveries they have run for a loop "
        "before the first, so that they close.",
        "%",
        (0.0, 98.0),
        hard=(0.0, 99.0),
        idle=0.0,
    ),
    "trails_as": choice(
        "lighter",
        "Trails as",
        "What is left of earlier pictures shows where it is lighter than this one, or is mixed "
        "into it.",
        {"lighter": "light that fades", "mixed": "pictures that blend"},
        main=False,
    ),
    "vignette": number(
        0.0,
        "Vignette",
        "How much darker the corners of the picture are.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        idle=0.0,
    ),
}
