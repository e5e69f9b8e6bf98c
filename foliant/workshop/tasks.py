"""Background work: feeding a machine while a run lasts.

The lines are in the worker's own hands and go to the machine whatever the database is doing; notes of how far it is are
written by a thread beside, when they can be.
"""

import logging
import threading
from typing import Any

from django.db import DatabaseError, close_old_connections, connection
from django.utils import timezone
from django_tasks import task

from foliant.core.errors import Refused
from foliant.core.machine import LinkLost, Status
from foliant.core.machine.link import Command
from foliant.workshop.actions.history import StaleRevision
from foliant.workshop.machines import driver_for
from foliant.workshop.models import Run

logger = logging.getLogger("foliant.feeding")

NOTE_EVERY = 0.1
"""How often, in seconds, it is noted where the machine is."""

_STATES = {
    "receiving": Run.State.SENDING,
    "waiting": Run.State.WAITING,
    "running": Run.State.RUNNING,
    "holding": Run.State.HOLDING,
    "idle": Run.State.RUNNING,
    "stopped": Run.State.STOPPED,
}
_NOTED = ["state", "ready", "done", "clock", "x", "y", "power", "heard"]


@task()
def drive(run_id: int) -> None:
    """Send a run's lines to its machine, noting where it is and passing on what the maker has left to be said."""
    now = timezone.now()
    # Only one worker feeds the machine at an address, so whoever took a run that is not over yet is gone.
    address = Run.objects.values_list("address", flat=True).filter(pk=run_id)
    left = Run.objects.filter(address__in=address, state__in=Run.ACTIVE).exclude(taken=None).exclude(pk=run_id)
    for gone in left.defer(*Run.HEAVY):
        state, why = gone.forsaken
        left.filter(pk=gone.pk).update(state=state, message=why, ended=now)
    if not Run.objects.filter(pk=run_id, taken=None, state=Run.State.SENDING).update(taken=now, heard=now):
        return  # it was stopped before it began
    run = Run.objects.get(pk=run_id)
    lines = run.lines
    notes = Notes(run)
    try:
        driver = driver_for(run.address, run.language)
        last = driver.send(lines, notes.take)
    except LinkLost as lost:
        notes.finish()
        if run.all_made:
            _end(run, Run.State.DONE, Run.ALL_MADE)
            _mark_taken(run)
            return
        _end(run, Run.State.LOST, f"{lost} It had made {run.done} of {run.moves} moves; look at the work first.")
    except Refused as refused:
        notes.finish()
        _end(run, Run.State.STOPPED, str(refused))
    else:
        notes.finish()
        _write(run, last)
        if run.kind == Run.Kind.JOB:
            run.burnt = driver.burnt()
        stopped = last.state == "stopped"
        _end(run, Run.State.STOPPED if stopped else Run.State.DONE, "Stopped before the end." if stopped else "")
        if not stopped:
            _mark_taken(run)


def _mark_taken(run: Run) -> None:
    """Mark what a job cut out of its sheet as gone; that it cannot be noted spoils nothing."""
    if not run.takes:
        return
    from foliant.workshop.actions import MarkTaken  # which stands on the actions that begin this task

    for wait in (0.2, 1, 5):
        try:
            MarkTaken(run).execute()
            return
        except (Refused, StaleRevision, DatabaseError) as trouble:
            logger.warning("What run %s took could not be marked: %s", run.pk, trouble)
            threading.Event().wait(wait)


class Notes:
    """What is noted of a run while it lasts, and what the maker has left to be said: by a thread of its own, so that
    a busy database never keeps the machine waiting.
    """

    def __init__(self, run: Run) -> None:
        self._run = run
        self._status: Status | None = None
        self._command: Command | None = None
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._keep, daemon=True)
        self._thread.start()

    def take(self, status: Status, sent: int) -> Command | None:
        """Called as the machine runs: remember the status, and give what is to be said, once."""
        self._status = status
        said, self._command = self._command, None
        return said

    def finish(self) -> None:
        """Stop noting; the run has what was heard last."""
        self._ended.set()
        self._thread.join()
        if self._status is not None:
            _write(self._run, self._status)

    def _keep(self) -> None:
        while not self._ended.wait(NOTE_EVERY):
            try:
                self._note()
            except DatabaseError as error:
                logger.warning("Run %s could not be noted: %s", self._run.pk, error)
                close_old_connections()
        connection.close()

    def _note(self) -> None:
        rows: Any = Run.objects.filter(pk=self._run.pk)
        if self._status is not None:
            _write(self._run, self._status)
        self._run.heard = timezone.now()
        rows.update(**{name: getattr(self._run, name) for name in _NOTED})
        command = rows.values_list("command", flat=True).get()
        if command:
            rows.filter(command=command).update(command="")  # and none that was left meanwhile
            self._command = command


def _write(run: Run, status: Status) -> None:
    run.state = _STATES.get(status.state, Run.State.RUNNING)
    run.ready = run.ready or status.state in ("waiting", "running", "holding")
    run.done, run.clock = status.done, status.clock
    run.x, run.y, run.power = status.x, status.y, status.power
    run.heard = timezone.now()


def _end(run: Run, state: Run.State, message: str) -> None:
    """Write down how a run ended; a busy database is asked again, as nobody else will."""
    run.state, run.message, run.ended = state, message[:400], timezone.now()
    for wait in (0.5, 1, 2, 5, 10):
        try:
            run.save(update_fields=[*_NOTED, "message", "ended", "burnt_strokes"])
            return
        except DatabaseError as error:
            logger.warning("The end of run %s could not be noted: %s", run.pk, error)
            threading.Event().wait(wait)
