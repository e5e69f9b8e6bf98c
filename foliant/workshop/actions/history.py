"""What all stored histories share."""

from datetime import timedelta

from django.utils import timezone

from foliant.workshop.models import Walked

KEPT = 500
"""How many of the newest states are all kept; of older ones one an hour, and after a week one a day."""

THIN_EVERY = 50


class StaleRevision(Exception):
    """The edit was made on a state that is no longer the current one."""


def thin_out(thing: Walked) -> None:
    """Every so often, drop states that are neither among the newest nor the last of their hour or day."""
    if thing.latest % THIN_EVERY:
        return
    rows = list(thing.states.order_by("-number").values_list("pk", "created")[KEPT:])
    week_ago = timezone.now() - timedelta(days=7)
    seen: set[str] = set()
    gone = []
    for pk, created in rows:
        slot = created.strftime("%Y-%m-%d %H" if created > week_ago else "%Y-%m-%d")
        if slot in seen:
            gone.append(pk)
        seen.add(slot)
    for begin in range(0, len(gone), 500):
        thing.states.filter(pk__in=gone[begin : begin + 500]).delete()
