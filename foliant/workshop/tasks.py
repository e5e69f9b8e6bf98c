"""Background work: driving a machine while a run lasts."""

from django.conf import settings
from django.utils import timezone
from django_tasks import task

from foliant.core.errors import Refused
from foliant.core.machine import Link, LinkLost, Panel, Status, run_lines, trace_lines
from foliant.core.machine.link import Command
from foliant.core.ticket import plan
from foliant.workshop.fonts import look_again_for_fonts
from foliant.workshop.models import Run

_STATES = {
    "receiving": Run.State.SENDING,
    "waiting": Run.State.WAITING,
    "running": Run.State.RUNNING,
    "holding": Run.State.HOLDING,
    "idle": Run.State.RUNNING,
    "stopped": Run.State.STOPPED,
}


@task()
def drive(run_id: int) -> None:
    """Send a run's lines to its machine, writing down where it is and passing on what the maker says."""
    run = Run.objects.select_related("project").get(pk=run_id)
    if not run.active:
        return
    look_again_for_fonts()
    job = plan(run.project.revisions.get(number=run.revision).design)
    lines = run_lines(job) if run.kind == Run.Kind.JOB else trace_lines(job)
    host, port, panel_port = settings.MACHINE_ADDRESSES[run.machine]
    try:
        with Link(host, port) as link:
            last = link.run(lines, lambda status, sent: _note(run, status))
    except LinkLost as lost:
        _end(run, Run.State.LOST, f"{lost} It had made {run.done} of {run.moves} moves; look at the work first.")
    except Refused as refused:
        _end(run, Run.State.STOPPED, str(refused))
    else:
        _write(run, last)
        if run.kind == Run.Kind.JOB:
            run.burnt = Panel(host, panel_port).burnt()
        stopped = last.state == "stopped"
        _end(run, Run.State.STOPPED if stopped else Run.State.DONE, "Stopped before the end." if stopped else "")


def _note(run: Run, status: Status) -> Command | None:
    """Write down the status; give the command that the maker has left, once."""
    _write(run, status)
    run.save(update_fields=["state", "done", "clock", "x", "y", "power", "heard"])
    command = Run.objects.values_list("command", flat=True).get(pk=run.pk)
    if command:
        Run.objects.filter(pk=run.pk).update(command="")
    return command or None


def _write(run: Run, status: Status) -> None:
    run.state = _STATES.get(status.state, Run.State.RUNNING)
    run.done, run.clock = status.done, status.clock
    run.x, run.y, run.power = status.x, status.y, status.power
    run.heard = timezone.now()


def _end(run: Run, state: Run.State, message: str) -> None:
    run.state, run.message, run.ended = state, message[:400], timezone.now()
    run.save()
