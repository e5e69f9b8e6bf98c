"""Proving: an edit is only kept where all that it changes can be worked out."""

import logging
from collections.abc import Iterator
from contextlib import contextmanager

from foliant.core.design.budget import check_budget
from foliant.core.design.edits import Edit
from foliant.core.design.model import Design
from foliant.core.design.resolve import resolve
from foliant.core.design.settle import settled_design
from foliant.core.errors import Refused

logger = logging.getLogger("foliant.proving")


def proved(design: Design, edit: Edit) -> Design:
    """The design after an edit, every piece that it changes worked out.

    Raises `Refused` where the edit cannot be done or brings a piece into trouble. A piece that is in trouble already
    may be changed, as that is how it is mended.
    """
    return finished(begun(design, edit), design)


def begun(design: Design, edit: Edit) -> Design:
    """The design after an edit, within its budget, but with nothing brought up to date yet."""
    with _sentences_only():
        changed = edit.done(design)
        check_budget(changed, design)
    return changed


def finished(changed: Design, before: Design) -> Design:
    """A changed design brought up to date, and every piece worked out that is not as it was before."""
    with _sentences_only():
        design = settled_design(changed, before)
    old = {piece.id: piece for piece in before.pieces}
    for piece in design.pieces:
        known = old.get(piece.id)
        if piece is known or piece == known:
            continue
        trouble = resolve(piece).trouble
        if trouble and not (known and resolve(known).trouble):
            raise Refused(f"{trouble} Nothing was changed.")
    return design


@contextmanager
def _sentences_only() -> Iterator[None]:
    """Whatever goes wrong is said in a sentence, and logged where it was not foreseen."""
    try:
        yield
    except Refused:
        raise
    except Exception as error:
        logger.exception("An edit cannot be worked out")
        raise Refused(
            "This leads to outlines that cannot be worked out, so nothing was changed. Try another size or place."
        ) from error
