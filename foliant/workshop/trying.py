"""Trying: what an edit leads to, worked out where there is room for it."""

from foliant.core.design import Design, Edit, begun, finished, proved
from foliant.workshop.computing import LIGHT, changed_weight, weight_of, work_out


def tried(before: Design, edit: Edit) -> Design:
    """The design after an edit, proved; raises `Refused`.

    An edit of what is heavy, or that makes something heavy, is worked out in a process of its own.
    """
    heavy = weight_of(before)
    if heavy > LIGHT:
        return work_out(heavy, proved, before, edit)
    changed = begun(before, edit)
    return work_out(changed_weight(changed, before), finished, changed, before)
