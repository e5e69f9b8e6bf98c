"""Machines that run: the line protocol, the link that speaks it, and a simulated controller that answers; and, for
cutters that take HPGL, `plotting` and `plotter`.

The protocol is plain text over TCP, one line at a time. A line of G-code is answered `ok` or
`error: <sentence>`; the answer waits while the controller's buffer is full. After a stop every further
line of the job is answered `error: the job was stopped`. Five words may be sent at
any time, also while an answer is awaited, and each is answered with a `status` line:

    STATUS   where the machine is
    HOLD     stop moving, tool off, keep the job
    RESUME   go on
    STOP     stop moving, tool off, forget the job
    LIGHT    show where the head is, until a job begins

    status state=running x=12.500 y=40.000 power=32 done=118 clock=61.25 light=0

Between jobs `MEASURE` is answered `measured <mm>`: how thick what lies under the head is, which has its focus on that
from then on; or `error: <sentence>`.

`state` is idle, receiving, waiting (for the start button on the machine), running, holding or stopped;
`done` counts finished moves; `clock` is the machine's own seconds since the job began. `M0` waits for the start button.
"""

from foliant.core.machine.driver import Driver, Endpoint
from foliant.core.machine.drivers import driver_at
from foliant.core.machine.link import Link, LinkLost, Status
from foliant.core.machine.panel import Panel
from foliant.core.machine.script import Script, run_lines, script_of
from foliant.core.machine.tracing import trace_lines

__all__ = [
    "Driver",
    "Endpoint",
    "Link",
    "LinkLost",
    "Panel",
    "Script",
    "Status",
    "driver_at",
    "run_lines",
    "script_of",
    "trace_lines",
]
