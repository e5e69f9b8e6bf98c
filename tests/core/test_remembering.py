"""Remembering: what is kept is weighed while others work with it."""

from foliant.core.remembering import weight


class Shared:
    """Something whose properties are kept as they are asked for."""


class Busy:
    """What another thread is at while it is weighed: it keeps one more property of what holds it."""

    def __init__(self, holder: Shared) -> None:
        self.holder = holder

    @property
    def _weight(self) -> int:
        vars(self.holder)["more"] = 1
        return 100


def test_what_grows_while_it_is_weighed_is_weighed_as_it_was() -> None:
    shared = Shared()
    vars(shared).update(busy=Busy(shared), number=1)
    assert weight(shared) == 64 + 100 + 32
