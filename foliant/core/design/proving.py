"""Proving: an edit is only kept where all that it changes can be worked out."""

import logging

from foliant.core.design.edits import Edit, apply
from foliant.core.design.model import Design
from foliant.core.design.resolve import resolve
from foliant.core.errors import Refused

logger = logging.getLogger("foliant.proving")


def proved(design: Design, edit: Edit) -> Design:
    """The design after an edit, every piece that it changes worked out.

    Raises `Refused` where the edit cannot be done or brings a piece into trouble. A piece that is in trouble already
    may be changed, as that is how it is mended.
    """
    try:
        changed = apply(design, edit)
    except Refused:
        raise
    except Exception as error:
        logger.exception("An edit fails: %s", edit.do)
        raise Refused(
            "This leads to outlines that cannot be worked out, so nothing was changed. Try another size or place."
        ) from error
    before = {piece.id: piece for piece in design.pieces}
    for piece in changed.pieces:
        old = before.get(piece.id)
        if piece is old or piece == old:
            continue
        trouble = resolve(piece).trouble
        if trouble and not (old and resolve(old).trouble):
            raise Refused(f"{trouble} Nothing was changed.")
    return changed
