"""The history of the design file: one small step from each version to the next, so that whatever was saved once opens.

To change the document: raise `VERSION` in `model.py`, write `v<n>.py` with what lifts version n to the next (`design`,
from the data of a document, and `part`, from that of a part alone, as the clipboard holds it), and name it here; what
has to be worked out from the pieces is done to the design when it is read (`reading.py`). Keep some files of every
version in `tests/data` for good.
"""

from collections.abc import Callable
from typing import Any

from foliant.core.design.versions import v1, v3

Data = dict[str, Any]

STEPS: dict[int, Callable[[Data], Data]] = {1: v1.design, 2: dict, 3: v3.design}
PARTS: dict[int, Callable[[Data], Data]] = {1: v1.part, 2: dict, 3: v3.part}


def lifted(data: Data, version: int) -> Data:
    """The data of a document of this version as that of the newest; what is damaged in it stays so."""
    for number in range(version, max(STEPS) + 1):
        data = {**STEPS[number](data), "version": number + 1}
    return data


def lifted_part(data: Any, version: int) -> Any:
    """The data of a part alone, likewise."""
    for number in range(version, max(PARTS) + 1):
        data = PARTS[number](data) if isinstance(data, dict) else data
    return data
