"""Edits: everything a maker can do to a design, as typed commands, one file a theme.

An edit is plain data (`read_edit` reads it from JSON) and `apply` gives a new design, or raises
`Refused` with a sentence and leaves the old one as it was. `says` names it for undo.
"""

from typing import Annotated

from pydantic import Field, TypeAdapter, ValidationError

from foliant.core.design.budget import check_budget
from foliant.core.design.edits.one_row import ForRow
from foliant.core.design.edits.plain import PlainEdit
from foliant.core.design.model import Design
from foliant.core.design.settle import settled_design
from foliant.core.errors import Refused
from foliant.core.quantities import explain

Edit = Annotated[PlainEdit | ForRow, Field(discriminator="do")]

_ADAPTER: TypeAdapter[Edit] = TypeAdapter(Edit)


def read_edit(data: object) -> Edit:
    """An edit from parsed JSON; raises `Refused`."""
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        raise Refused(explain(error)) from None


def apply(design: Design, edit: Edit) -> Design:
    """The design after an edit, brought up to date; raises `Refused` where it cannot be done, or would be too much."""
    changed = edit.done(design)
    check_budget(changed, design)
    return settled_design(changed, design)
