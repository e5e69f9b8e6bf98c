"""The base of everything in a design: frozen, closed to unknown fields, hashable for the caches."""

from pydantic import BaseModel, ConfigDict


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
