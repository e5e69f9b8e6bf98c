"""Background work: packing sheets, less urgent than pages and machines."""

import logging
import os
import time
from contextlib import suppress

from django.db import DatabaseError
from django.utils import timezone
from django_tasks import task

from foliant.core.design.benches import on_bench
from foliant.core.errors import Refused
from foliant.core.layout import packings
from foliant.workshop.models import Packing, pack

logger = logging.getLogger("foliant.packer")

PACKERS_QUEUE = "packing"

_LOOK_EVERY = 0.25
_NICE = 10


@task(queue_name=PACKERS_QUEUE)
def pack_sheet(packing_id: int) -> None:
    """Look for better and better ways to lay a sheet, noting the best, until the time is over or the maker stops it."""
    waiting = Packing.objects.filter(pk=packing_id, state=Packing.State.WAITING)
    now = timezone.now()
    if not waiting.update(state=Packing.State.PACKING, begun=now, heard=now):
        return
    with suppress(OSError):
        os.setpriority(os.PRIO_PROCESS, 0, _NICE)
    packing = Packing.objects.get(pk=packing_id)
    ended, message = Packing.State.FOUND, ""
    try:
        for found in packings(on_bench(packing.project.design, packing.bench), packing.seconds, _Stop(packing_id)):
            _note(packing, found.edit.model_dump(mode="json"), found.placed, found.wanted, found.density)
    except Refused as refusal:
        ended, message = Packing.State.FAILED, str(refusal)
    except Exception:
        logger.exception("Packing %s failed", packing_id)
        ended, message = Packing.State.FAILED, "The sheet could not be packed; it is as it was."
    Packing.objects.filter(pk=packing_id).update(state=ended, message=message[:400], heard=timezone.now())


def _note(packing: Packing, edit: object, placed: int, wanted: int, density: float) -> None:
    packing.answers += 1
    best = {"edit": pack(edit), "placed": placed, "wanted": wanted, "density": density, "answers": packing.answers}
    Packing.objects.filter(pk=packing.pk).update(**best, heard=timezone.now())


class _Stop:
    """Whether the maker has said that this will do; asked of the database only so often."""

    def __init__(self, packing_id: int) -> None:
        self._packing = Packing.objects.filter(pk=packing_id)
        self._asked = time.monotonic()
        self._stop = False

    def __call__(self) -> bool:
        if not self._stop and time.monotonic() - self._asked > _LOOK_EVERY:
            self._asked = time.monotonic()
            with suppress(DatabaseError):  # a busy database is asked again
                self._packing.update(heard=timezone.now())
                self._stop = bool(self._packing.values_list("stop", flat=True).first() is not False)
        return self._stop
