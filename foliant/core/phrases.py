"""Phrases: sentences as their models say them, with the values in them that can be edited in place."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Value:
    """A word of a sentence that can be edited: the field of the model it shows.

    Where the value belongs to something else, `of` names that, and `field_there` the field it has there.
    """

    field: str
    of: str = ""
    field_there: str = ""


@dataclass(frozen=True)
class Measure:
    """A length (mm) of a sentence that follows from others, and is only read."""

    length: float


Bit = str | Value | Measure
