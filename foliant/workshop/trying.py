"""Trying: what an edit leads to, worked out where there is room for it."""

import json

from foliant.core.design import Design, Edit, begun, finished, proved, read_edit
from foliant.core.design.budget import weight
from foliant.workshop.computing import LIGHT, changed_weight, work_out


def tried(before: Design, edit: Edit) -> Design:
    """The design after an edit, proved; raises `Refused`.

    An edit of a piece that is heavy, that makes something heavy, or that is heavy itself, is worked out in a process of
    its own.
    """
    heavy = max(edit.effort(before), *map(weight, before.pieces), 0)
    if heavy > LIGHT:
        return work_out(heavy, _proved, before, edit.model_dump_json(by_alias=True))
    changed = begun(before, edit)
    return work_out(changed_weight(changed, before), finished, changed, before)


def _proved(before: Design, edit: str) -> Design:
    """The same of an edit as text, which can be handed on and remembered."""
    return proved(before, read_edit(json.loads(edit)))
