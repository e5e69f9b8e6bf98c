"""The base of everything in a design: frozen, closed to unknown fields, hashable for the caches."""

from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, PlainSerializer


class Frozen(BaseModel):
    """A frozen model. Change it with `model_copy(update=...)`, which gives a new one.

    Its hash is kept, as parts that are made from parts would be gone through again at every look into a cache.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    __slots__ = ("_hash", "_weight")  # what is kept beside the fields; see `remembering`
    _hash: int
    _weight: int

    def __hash__(self) -> int:
        try:
            return self._hash
        except AttributeError:
            found = hash((type(self), *self.__dict__.values()))
            object.__setattr__(self, "_hash", found)
            return found


def whole(value: float | str) -> float | str:
    """A number that is whole as one that is written so."""
    return int(value) if isinstance(value, float) and value.is_integer() else value


def _as_pairs(value: Any) -> Any:
    return tuple(sorted(value.items())) if isinstance(value, Mapping) else value


Figures = Annotated[
    tuple[tuple[str, float | str], ...],
    BeforeValidator(_as_pairs),
    PlainSerializer(dict, return_type=dict[str, float | str]),
]
"""Numbers, and keys of choices, by name: an object in JSON, sorted pairs here, as a frozen model must be hashable."""

Texts = Annotated[
    tuple[tuple[str, str], ...], BeforeValidator(_as_pairs), PlainSerializer(dict, return_type=dict[str, str])
]
"""Texts by name, likewise."""
