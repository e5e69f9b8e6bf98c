"""The base of everything in a design: frozen, closed to unknown fields, hashable for the caches."""

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A frozen model. Change it with `model_copy(update=...)`, which gives a new one."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
