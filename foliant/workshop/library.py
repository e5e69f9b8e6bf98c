"""The library of a maker's own: pieces kept as starters, and shapes kept as motifs."""

from typing import Any

from django.db.models import QuerySet

from foliant.core.design import Design, Part, apply, part_paths, read_edit, resolve
from foliant.core.design.budget import weight
from foliant.core.design.edits.pieces import pieces_text
from foliant.core.design.nodes import contours_of
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.starters import STARTERS, Starter, find_starter
from foliant.workshop.computing import LIGHT
from foliant.workshop.models import Keepsake

OWN = "own-"
"""What the key of a starter of one's own begins with; its number follows."""

MOST_ASKED = 8


def kept(user: Any, kind: str) -> QuerySet[Keepsake]:
    """What a maker keeps of a kind and has not put away."""
    return Keepsake.objects.filter(owner=user, kind=kind, put_away=None)


def starters_of(user: Any) -> list[Starter]:
    """The starters that a maker can begin with: their own, then those that ship."""
    return [*map(as_starter, kept(user, Keepsake.Kind.STARTER)), *STARTERS]


def starter_of(user: Any, key: str) -> Starter:
    """The starter of that key; raises `Refused`."""
    number = key.removeprefix(OWN)
    if key == number or not number.isdecimal():
        return find_starter(key)
    found = kept(user, Keepsake.Kind.STARTER).filter(pk=int(number[:12])).first()
    if found is None:
        raise Refused("That starter has been put away; bring it back at the Workshop.")
    return as_starter(found)


def as_starter(one: Keepsake) -> Starter:
    """A kept piece as a starter like any other."""
    wide, tall = one.content["size"]
    edits = ({"do": "add-pieces", "text": one.content["text"]},)
    return Starter(f"{OWN}{one.pk}", one.name, "of your own", (wide, tall), edits, tuple(one.content["asks"]))


def starter_content(design: Design, piece_id: str, asks: tuple[str, ...]) -> dict[str, Any]:
    """What is kept of a piece; raises `Refused` where it asks for what it has not."""
    if len(asks) > MOST_ASKED:
        raise Refused(f"A starter asks for at most {MOST_ASKED} values.")
    piece = design.piece(piece_id)
    if weight(piece) > LIGHT:  # it is drawn on every page that begins something
        raise Refused(
            f"{piece.name} is too much to begin with: copy it to other projects instead, or lessen its parts."
        )
    text = pieces_text(design, [piece_id])
    (new,) = apply(Design(), read_edit({"do": "add-pieces", "text": text})).pieces
    ids = {old.id: now.id for old, now in zip(piece.parts, new.parts, strict=True)} | {piece.id: new.id}
    found = [" ".join(ids.get(word, word) for word in address.split()) for address in asks]
    resolved = resolve(new)
    if resolved.trouble or not len(resolved.outline.path):
        raise Refused(f"{piece.name} has no material yet, so there is nothing to begin with: finish it first.")
    left, top, right, bottom = resolved.bounds
    size = (round(right - left, 2), round(bottom - top, 2))
    wanted = sorted(found, key=lambda address: not address.endswith(" text"))
    Starter("own", piece.name, "", size, ({"do": "add-pieces", "text": text},), tuple(wanted)).asked()
    return {"text": text, "asks": wanted, "size": size}


def motif_content(parts: tuple[Part, ...]) -> dict[str, Any]:
    """What is kept of some shapes as a motif: their outlines about their middle; raises `Refused` for none."""
    path = join(path for part in parts for path in part_paths(part))
    if not len(path):
        raise Refused("There is no shape to keep: choose one first.")
    left, top, right, bottom = path.bounds
    centred = path.moved(-(left + right) / 2, -(top + bottom) / 2)
    contours = [contour.model_dump(mode="json") for contour in contours_of(centred)]
    return {"contours": contours, "size": (round(right - left, 2), round(bottom - top, 2))}
