"""Short ways to make designs in tests, through the same edits that makers use."""

from collections.abc import Callable
from typing import Any

from foliant.core import checks, ticket
from foliant.core.checks import Finding
from foliant.core.design import Design, Piece, apply, read_edit
from foliant.core.equipment import SHIPPED, Shop
from foliant.core.lettering import Style, set_words
from foliant.core.paths import Path, PathPen
from foliant.core.paths.data import path_data, path_from
from foliant.core.ticket import Job


def glyphs(words: str, font: str, cap_height: float = 10.0, **style: Any) -> tuple[Path, ...]:
    """The letters of a line of words as outlines, capitals so many mm tall."""
    return set_words(words, Style(font, size=cap_height, **style)).paths


def edited(design: Design, *edits: dict[str, Any]) -> Design:
    """The design after edits given as plain data."""
    for edit in edits:
        design = apply(design, read_edit(edit).with_shop(SHIPPED, design))
    return design


def put(kind: str, piece: str = "p1", **more: Any) -> dict[str, Any]:
    """An edit that puts a part on a piece; x, y and role may be named, the rest are the shape's values."""
    place = {key: more.pop(key) for key in ("x", "y", "role") if key in more}
    return {"do": "add-part", "piece": piece, "kind": kind, "values": more, **place}


def one_piece(*parts: dict[str, Any], name: str = "Guide tag", copies: int = 1) -> Design:
    """A design of one piece, p1, with the given parts."""
    piece = {"do": "add-piece", "name": name}
    return edited(
        Design(name="Open-night tags"), piece, *parts, {"do": "change", "of": "piece p1", "values": {"copies": copies}}
    )


def tag(copies: int = 1, **more: Any) -> Design:
    """The guide tag: a plate with cut corners, a slot, and a name."""
    return one_piece(
        put("rectangle", width=72, height=30, corners="cut", corner=6, x=36, y=15),
        put("hole", width=3.5, height=14, x=6.75, y=15),
        put("words", text=more.get("name", "ORRIN"), cap_height=7.5, x=40, y=15),
        copies=copies,
    )


def drawn(draw: Callable[[PathPen], object]) -> Path:
    """The path that a drawing function tells a pen."""
    pen = PathPen()
    draw(pen)
    return pen.path()


def plan(design: Design, shop: Shop = SHIPPED) -> Job:
    """A design's job, in the shop that ships."""
    return ticket.plan(design, shop)


def check_piece(design: Design, piece: Piece, shop: Shop = SHIPPED) -> tuple[Finding, ...]:
    """A piece's findings, in the shop that ships."""
    return checks.check_piece(design, piece, shop)


def outlined(data: str, width: float = 38, height: float = 16, role: str = "engraves") -> dict[str, Any]:
    """A part of an outline as it is brought in, its path data about the middle of its box."""
    path = path_from(data)
    left, top, right, bottom = path.bounds
    about = path_data(path.moved(-(left + right) / 2, -(top + bottom) / 2))
    shape = {"kind": "outline", "data": [about], "width": width, "height": height}
    return {"id": "a1", "roles": [role], "x": 0, "y": 0, "shape": shape}
