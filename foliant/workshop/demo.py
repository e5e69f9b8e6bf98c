"""The demo world: Quillmoor Observatory, a small volunteer observatory preparing its open night.

Every design is made by the same edits that a maker makes, so the demo cannot rot unnoticed.
"""

from collections.abc import Callable, Iterable
from functools import cache
from typing import Any

from django.contrib.auth import get_user_model

from foliant.core.design import Design, Ticket, apply, read_edit
from foliant.core.design.edits.sheet import TakeStock
from foliant.core.equipment import SHIPPED
from foliant.workshop.actions import AddPicture, CreateProject
from foliant.workshop.demo_picture import moon_over_the_dome
from foliant.workshop.models import Project
from foliant.workshop.owning import own_key

DEMO_MAKER = "maker"
KEEPSAKES = "Moon keepsakes"


def made(name: str, edits: Iterable[dict[str, Any]]) -> Design:
    """The design that a list of edits gives."""
    design = Design(name=name, stock=TakeStock.of(SHIPPED.shelf[0]).stock, ticket=Ticket(kerf="on"))
    for edit in edits:
        design = apply(design, read_edit(edit).with_shop(SHIPPED, design))
    return design


def _put(piece: str, kind: str, values: dict[str, Any], x: float, y: float, role: str | None = None) -> dict[str, Any]:
    return {"do": "add-part", "piece": piece, "kind": kind, "values": values, "x": x, "y": y, "role": role}


def guide_tag(name: str = "ORRIN") -> list[dict[str, Any]]:
    """A tag with cut corners and a lanyard slot, as piece p1."""
    return [
        {"do": "add-piece", "name": "Guide tag"},
        _put("p1", "rectangle", {"width": 72, "height": 30, "corners": "cut", "corner": 6}, 36, 15),
        _put("p1", "hole", {"width": 3.5, "height": 14}, 6.75, 15),
        {"do": "hold-parts", "piece": "p1", "parts": ["a3"]},
        _put("p1", "words", {"text": name, "font": "playfair-display", "cap_height": 7.5, "tracking": 2}, 40, 12.4),
        _put("p1", "words", {"text": "open night guide", "font": "damion", "cap_height": 4}, 40, 21.5),
        _put("p1", "rectangle", {"width": 58, "height": 22, "corners": "square"}, 39, 15, "guides"),
    ]


def open_night_tags() -> Design:
    """Guide tags, an orbit-ring ornament and a moon coaster on one sheet of birch."""
    return made(
        "Open-night tags",
        [
            *guide_tag(),
            {"do": "change", "of": "piece p1", "values": {"copies": 6}},
            {"do": "add-piece", "name": "Orbit ring"},
            _put("p7", "ring", {"diameter": 80, "band": 5}, 40, 40),
            _put("p7", "ring", {"diameter": 11, "band": 2.75}, 40, -3.2),
            _put("p7", "rectangle", {"width": 73, "height": 4}, 40, 46),
            _put(
                "p7",
                "words",
                {"text": "FIRST LIGHT", "font": "bebas-neue", "cap_height": 11, "tracking": 3},
                40,
                39.0,
                "adds",
            ),
            _put("p7", "circle", {"diameter": 12}, 40, 60, "adds"),
            _put("p7", "rectangle", {"width": 2.4, "height": 10}, 40, 52, "adds"),
            _put("p7", "circle", {"diameter": 70}, 40, 40, "guides"),
            {"do": "treat-parts", "piece": "p7", "parts": ["a11"], "treatment": "grown", "values": {"distance": 0.2}},
            {"do": "add-piece", "name": "Moon coaster"},
            _put("p15", "circle", {"diameter": 95}, 47.5, 47.5),
            _put("p15", "circle", {"diameter": 86}, 47.5, 47.5, "scores"),
            _put("p15", "circle", {"diameter": 83}, 47.5, 47.5, "scores"),
            _put("p15", "words", {"text": "Quillmoor", "font": "pacifico", "cap_height": 13}, 47.5, 41),
            _put(
                "p15",
                "words",
                {"text": "OBSERVATORY", "font": "alegreya-sans", "cap_height": 5, "tracking": 22},
                47.5,
                58,
            ),
        ],
    )


def hour_discs() -> Design:
    """A disc of hour marks: marks and holes repeated round it, and words and a planet held to its middle."""
    here = {"piece": "p1"}
    return made(
        "Hour discs",
        [
            {"do": "add-piece", "name": "Hour disc"},
            _put("p1", "circle", {"diameter": 96}, 48, 48),
            _put("p1", "line", {"length": 7}, 48, 7.5),
            {"do": "change", "of": "part a3", "values": {"rotation": 90}},
            {"do": "repeat-parts", **here, "parts": ["a3"], "kind": "around"},
            {"do": "change", "of": "repeat a3", "values": {"count": 24}},
            _put("p1", "hole", {"width": 4, "height": 4}, 48, 81),
            {"do": "repeat-parts", **here, "parts": ["a4"], "kind": "around"},
            {"do": "change", "of": "repeat a4", "values": {"count": 3}},
            _put("p1", "motif", {"motif": "planet", "height": 26}, 48, 40),
            {"do": "hold-parts", **here, "parts": ["a5"]},
            _put("p1", "words", {"text": "Varuna dome", "font": "zilla-slab", "cap_height": 6}, 48, 68),
            {"do": "hold-parts", **here, "parts": ["a6"], "to": "a5"},
            {"do": "change", "of": "piece p1", "values": {"copies": 3}},
        ],
    )


def bay_signs() -> Design:
    """Signs for the telescope bays, in inches, of slate acrylic on the larger laser."""
    return made(
        "Telescope-bay signs",
        [
            {"do": "set-unit", "unit": "in"},
            {"do": "add-piece", "name": "Bay sign"},
            _put(
                "p1",
                "rectangle",
                {"width": "5 1/2in", "height": "2 1/4in", "corners": "scooped", "corner": "3/8in"},
                69.85,
                28.575,
            ),
            _put("p1", "hole", {"width": "3/16in", "height": "3/16in"}, 9.525, 28.575),
            _put("p1", "hole", {"width": "3/16in", "height": "3/16in"}, 130.175, 28.575),
            _put("p1", "words", {"text": "BAY 2", "font": "bebas-neue", "cap_height": "0.75in"}, 69.85, 22.5),
            _put(
                "p1",
                "words",
                {"text": "Mind the step, dim your torch", "font": "caveat", "cap_height": "0.17in"},
                69.85,
                43,
            ),
            {"do": "change", "of": "piece p1", "values": {"copies": 4}},
            {"do": "change", "of": "stock", "values": {"material": "slate-acrylic", "width": "12in", "height": "8in"}},
            {"do": "change", "of": "ticket", "values": {"machine": "cabin-laser"}},
        ],
    )


def first_light() -> Design:
    """A topper of two words on a spike, and a moon disc held by tabs with the stand that it slots into."""
    return made(
        "First Light topper",
        [
            {"do": "add-piece", "name": "Topper"},
            _put("p1", "words", {"text": "First", "font": "pacifico", "cap_height": 15}, 45, 18, "adds"),
            _put("p1", "words", {"text": "LIGHT", "font": "bebas-neue", "cap_height": 22}, 45, 42, "adds"),
            {"do": "surround-parts", "piece": "p1", "parts": ["a2", "a3"], "values": {"distance": 2.5}},
            _put("p1", "rectangle", {"width": 5, "height": 70}, 45, 84),
            {
                "do": "treat-parts",
                "piece": "p1",
                "parts": ["a5"],
                "treatment": "cornered",
                "values": {"style": "cut", "size": 2.4},
            },
            {"do": "set-role", "piece": "p1", "parts": ["a2", "a3"], "role": "engraves"},
            {"do": "add-piece", "name": "Moon disc"},
            _put("p6", "ring", {"diameter": 90, "band": 5}, 45, 45),
            _put("p6", "motif", {"motif": "moon", "height": 56}, 45, 45, "adds"),
            {"do": "tab-parts", "piece": "p6", "parts": ["a7", "a8"], "values": {"count": 3, "turn": 105}},
            {"do": "add-piece", "name": "Stand"},
            _put("p10", "arch", {"width": 80, "height": 44, "rise": 22}, 40, 22),
            {"do": "cross-lap", "piece": "p10"},
            {"do": "change", "of": "stock", "values": {"measured": "2.9"}},
        ],
    )


def open_night_gifts() -> Design:
    """A coaster with words round its rim, a name between two bars, and a ring that its letters reach."""
    fit = {"do": "fit-between", "piece": "p7", "parts": ["a8", "a9", "a10"]}
    return made(
        "Open-night gifts",
        [
            {"do": "add-piece", "name": "Rim coaster"},
            _put("p1", "circle", {"diameter": 90}, 45, 45),
            {"do": "words-on-edge", "piece": "p1", "part": "a2", "top": "QUILLMOOR", "bottom": "OPEN NIGHT"},
            _put("p1", "motif", {"motif": "moon", "height": 34}, 45, 45),
            {"do": "hold-parts", "piece": "p1", "parts": ["a5"], "to": "a2"},
            _put("p1", "circle", {"diameter": 56}, 45, 45, "scores"),
            {"do": "add-piece", "name": "Name topper"},
            _put("p7", "rectangle", {"width": 90, "height": 6}, 45, 3),
            _put("p7", "rectangle", {"width": 90, "height": 6}, 45, 41),
            _put("p7", "words", {"text": "Ysolde", "font": "pacifico", "cap_height": 20}, 45, 22, "adds"),
            fit,
            {"do": "add-piece", "name": "Orbit ornament"},
            _put("p11", "ring", {"diameter": 76, "band": 5}, 38, 38),
            _put("p11", "words", {"text": "ORION", "font": "bebas-neue"}, 38, 38, "adds"),
            {"do": "set-letters", "piece": "p11", "parts": ["a13"], "what": "fit", "to": "a12"},
            {"do": "change", "of": "piece p11", "values": {"copies": 2}},
            {"do": "change", "of": "stock", "values": {"width": 400, "height": 220}},
        ],
    )


def torch_tokens() -> Design:
    """Cork tokens to swap for a red torch, with stencilled words cut right through."""
    return made(
        "Torch tokens",
        [
            {"do": "add-piece", "name": "Torch token"},
            _put("p1", "circle", {"diameter": 48}, 24, 24),
            _put("p1", "words", {"text": "RED 7", "font": "allerta-stencil", "cap_height": 9}, 24, 26, "cuts"),
            # Thinner strokes leave the cork more to hold by between them.
            {"do": "treat-parts", "piece": "p1", "parts": ["a3"], "treatment": "grown", "values": {"distance": -0.35}},
            _put("p1", "hole", {"width": 5, "height": 5}, 24, 7),
            _put("p1", "circle", {"diameter": 42}, 24, 24, "scores"),
            {"do": "change", "of": "piece p1", "values": {"copies": 8}},
            {"do": "change", "of": "stock", "values": {"material": "cork-sheet", "width": 240, "height": 160}},
        ],
    )


def moon_keepsakes(picture: str) -> Design:
    """A photograph on a round coaster, seen only within a line round it."""
    return made(
        KEEPSAKES,
        [
            {"do": "add-piece", "name": "Keepsake"},
            _put("p1", "circle", {"diameter": 96}, 48, 48),
            _put("p1", "circle", {"diameter": 84}, 48, 48, "guides"),
            _put("p1", "picture", {"picture": picture, "name": "Moon over the dome", "width": 116}, 55, 48),
            {"do": "mask-pictures", "piece": "p1", "parts": ["a4", "a3"]},
            {"do": "change", "of": "part a4", "values": {"brightness": 14, "contrast": 22, "sharpen": 80}},
            _put("p1", "circle", {"diameter": 88}, 48, 48, "scores"),
            {"do": "change", "of": "piece p1", "values": {"copies": 2}},
        ],
    )


_PROJECTS: dict[str, Callable[[], Design]] = {
    "Open-night gifts": cache(open_night_gifts),
    "Torch tokens": cache(torch_tokens),
    "Telescope-bay signs": cache(bay_signs),
    "Open-night tags": cache(open_night_tags),
    "Hour discs": cache(hour_discs),
    "First Light topper": cache(first_light),
}
"""By their names, as those that are there already need not be made to see that they are."""


def load_demo(name: str = DEMO_MAKER) -> None:
    """Make a maker of that name and their demo projects, unless they are there already."""
    maker, fresh = get_user_model().objects.get_or_create(username=name)
    if fresh:
        maker.set_unusable_password()
        maker.save()
    have = set(Project.objects.filter(owner=maker).values_list("name", flat=True))
    for name, made_anew in _PROJECTS.items():
        if name not in have:
            CreateProject(maker, made_anew(), "demo").execute()
    if KEEPSAKES not in have:
        photograph = AddPicture(maker, moon_over_the_dome(), "Moon over the dome.png").execute()
        CreateProject(maker, moon_keepsakes(own_key(photograph.key, maker.pk)), "demo").execute()
