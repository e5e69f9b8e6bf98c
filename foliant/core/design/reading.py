"""Reading a design from the data of its file."""

import json
import logging
from collections.abc import Mapping
from typing import Any

from foliant.core.design.model import FORMAT, VERSION, Design, Piece
from foliant.core.design.settle import with_sources
from foliant.core.design.versions import lifted
from foliant.core.design.versions.v2 import with_origins
from foliant.core.design.versions.v3 import with_places_measured
from foliant.core.errors import Refused
from foliant.core.quantities import build

logger = logging.getLogger("foliant.reading")


def read_design(data: object) -> Design:
    """A design from parsed JSON; raises `Refused` with a sentence where it is not one."""
    fields, version = _checked(data)
    design = build(Design, fields)
    pieces = tuple(with_sources(piece) for piece in design.pieces)
    return _finished(design.model_copy(update={"pieces": pieces}), version)


def read_stored(data: object) -> Design:
    """A design that was stored here once, perhaps by another version of Foliant: it always opens.

    A piece that cannot be read keeps its data in `unread`, and is tried again each time. Raises `Refused` only where
    what surrounds the pieces cannot be read.
    """
    fields, version = _checked(data)
    pieces = [_with_unread_tried_again(piece) for piece in fields.get("pieces", ())]
    try:
        design = build(Design, {**fields, "pieces": pieces})
    except Refused:
        readable = [_readable(piece, number) for number, piece in enumerate(pieces, 1)]
        design = build(Design, {**fields, "pieces": readable})
    design = design.model_copy(update={"pieces": tuple(map(_with_sources_if_any, design.pieces))})
    return _finished(design, version)


def _finished(design: Design, version: int) -> Design:
    """The design, once its pieces stand, with what has to be worked out from them where it came from an old version."""
    if version < 3 and design.sheet.places:
        design = with_origins(design)
    return with_places_measured(design) if version < 4 else design


def _checked(data: object) -> tuple[dict[str, Any], int]:
    """The data as that of the newest version, and the version that it was."""
    if not isinstance(data, Mapping) or data.get("format") != FORMAT:
        raise Refused("This is not a Foliant design file: its “format” should be “foliant-design”.")
    found: Any = data.get("version")
    if not isinstance(found, int) or isinstance(found, bool) or not 1 <= found <= VERSION:
        raise Refused(f"This design file has version {str(found)[:20]}; this Foliant reads versions 1 to {VERSION}.")
    fields = lifted(dict(data), found)
    fields.pop("bench", None)  # a design is stored on its first bench
    return fields, found


def _with_sources_if_any(piece: Piece) -> Piece:
    try:
        return with_sources(piece)
    except Exception:  # parts that follow each other in a circle, say: it opens, and says so
        logger.exception("A stored piece cannot be linked")
        return Piece(id=piece.id, name=piece.name, copies=piece.copies, unread=piece.model_dump_json())


def _with_unread_tried_again(piece: Any) -> Any:
    if not (isinstance(piece, Mapping) and piece.get("unread")):
        return piece
    whole = json.loads(piece["unread"])
    try:
        build(Piece, whole)
    except Refused:
        return piece
    return whole


def _readable(piece: Any, number: int) -> Any:
    """A piece as it is, or with nothing on it but its data where it cannot be read."""
    try:
        build(Piece, piece)
        return piece
    except Refused:
        kept = {key: piece[key] for key in ("id", "name", "copies") if isinstance(piece, Mapping) and key in piece}
        try:
            build(Piece, kept)
        except Refused:
            kept = {"id": f"p{90_000 + number}", "name": f"Piece {number}"}
        return {**kept, "unread": json.dumps(piece)}
