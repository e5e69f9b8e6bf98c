"""Nesting what an edit makes: pieces that are cut to be applied lie packed as soon as they are there."""

from foliant.core.design import Design, Edit, apply
from foliant.core.design.benches import on_bench
from foliant.core.design.edits.raising import RaiseParts
from foliant.core.errors import Refused
from foliant.core.layout.packed import packed_at_once


def nested(design: Design, edit: Edit) -> Edit:
    """The edit with places for what it cuts to be applied, packed round what was put on that bench; any other edit, and
    one that is refused or makes nothing that finds a place, as it is.
    """
    if not isinstance(edit, RaiseParts):
        return edit
    known = {piece.id for piece in design.pieces}
    try:
        after = apply(design, edit.model_copy(update={"places": ()}))
    except Refused:
        return edit  # whoever applies it says why
    bench = next(piece.bench for piece in after.pieces if piece.id not in known)
    places = packed_at_once(on_bench(after, bench), lambda laid: laid.place is not None)
    return edit.model_copy(update={"places": places})
