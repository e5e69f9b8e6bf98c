"""Lines in a picture or on the bed, and where they meet."""

import numpy as np

from foliant.core.eye.lens import Floats

Line = tuple[Floats, Floats]
"""A point of a line, and its direction."""


def meeting(one: Line, other: Line) -> Floats:
    """Where two lines meet."""
    (p, r), (q, s) = one, other
    return np.asarray(p + np.linalg.solve(np.column_stack([r, -s]), q - p)[0] * r)
