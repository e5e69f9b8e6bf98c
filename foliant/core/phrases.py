"""Phrases: sentences as their models say them, with the values in them that can be edited in place."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Value:
    """A word of a sentence that can be edited: the field of the model it shows.

    Where the value belongs to something else, `of` names that, and `field_there` the field it has there; `said` is how
    it reads where that is not the value itself.
    """

    field: str
    of: str = ""
    field_there: str = ""
    said: str = ""


@dataclass(frozen=True)
class Size:
    """A length (mm) that a shape has from other values, and that can be typed all the same."""

    field: str
    label: str
    length: float


@dataclass(frozen=True)
class Measure:
    """A length (mm) of a sentence that follows from others, and is only read."""

    length: float


Bit = str | Value | Size | Measure
