"""Reading a design from the data of its file."""

from collections.abc import Mapping
from typing import Any

from foliant.core.design.model import FORMAT, VERSION, Design
from foliant.core.design.quantities import build
from foliant.core.design.settle import with_sources
from foliant.core.errors import Refused


def read_design(data: object) -> Design:
    """A design from parsed JSON; raises `Refused` with a sentence where it is not one."""
    if not isinstance(data, Mapping) or data.get("format") != FORMAT:
        raise Refused("This is not a Foliant design file: its “format” should be “foliant-design”.")
    found: Any = data.get("version")
    if found != VERSION:
        raise Refused(f"This design file has version {found}; this Foliant reads version {VERSION}.")
    design = build(Design, dict(data))
    pieces = tuple(with_sources(piece) for piece in design.pieces)
    return design.model_copy(update={"pieces": pieces})
