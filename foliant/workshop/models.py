"""What is stored: workshops and projects in every state they were in, what makers added, and runs on machines."""

import json
import zlib
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any, Literal

from django.conf import settings
from django.db import models
from django.utils import timezone

from foliant.core.design import Design, read_stored
from foliant.core.equipment import SHIPPED, Shop
from foliant.core.formats.shop_file import read_shop
from foliant.core.machine.programs import read_lines
from foliant.core.machine.script import doing
from foliant.core.program.lie import Lie
from foliant.core.remembering import remembered, told


class Walked(models.Model):
    """What is changed by edits, each state of which is kept: `current` numbers the state that stands, and `latest` the
    newest ever made.
    """

    current = models.PositiveIntegerField(default=0)
    latest = models.PositiveIntegerField(default=0)
    _standing: Any = None

    class Meta:
        abstract = True

    @property
    def states(self) -> Any:
        """Every state, by number."""
        raise NotImplementedError

    def revision(self) -> Any:
        """The current state; numbers are never used again, so it is fetched once."""
        if self._standing is None or self._standing.number != self.current:
            self._standing = self.states.get(number=self.current)
        return self._standing

    def neighbour(self, way: Literal["undo", "redo"]) -> Any:
        """The state that undo or redo would go to, if there is one."""
        if way == "undo":
            return self.states.filter(number__lt=self.current).last()
        return self.states.filter(number__gt=self.current).first()


class State(models.Model):
    """Something as it stood after one edit. Undo and redo walk these; a new edit drops what was undone.

    packed  the whole document, compressed: no state needs another
    edit    what was done, compressed, and `author` by whom: history that is never executed again
    """

    number = models.PositiveIntegerField()
    packed = models.BinaryField()
    edit = models.BinaryField(default=bytes)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    says = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True
        ordering = ["number"]

    @property
    def document(self) -> dict[str, Any]:
        """The stored document, as the data of a file."""
        found: dict[str, Any] = unpack(bytes(self.packed))
        return found


class Workshop(Walked):
    """A maker's shop, once they have changed it; see `shop_of`."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="workshop")

    def __str__(self) -> str:
        return f"Workshop of {self.owner}"

    @property
    def states(self) -> Any:
        return self.shops


class ShopState(State):
    """A shop as it stood after one edit."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="shops")

    class Meta(State.Meta):
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="one_shop_a_number")]

    def __str__(self) -> str:
        return f"{self.workshop} {self.number}: {self.says}"

    @property
    def shop(self) -> Shop:
        """The stored document as a shop; a state never changes, so it is read once."""
        return _read_shop(_Stored(self.pk, self.created, 0, bytes(self.packed)))


def shop_of(owner: int) -> Shop:
    """The shop of a maker; the one that ships, until they change it."""
    state = ShopState.objects.filter(workshop__owner=owner, number=models.F("workshop__current")).first()
    return state.shop if state else SHIPPED


class ProjectQuerySet(models.QuerySet["Project"]):
    """Projects as makers look for them."""

    def of(self, maker: Any) -> "ProjectQuerySet":
        """A maker's own projects that are not deleted."""
        return self.filter(owner=maker, deleted=None)


class Project(Walked):
    """One order or idea. Its design is that of revision `current`."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="projects")
    name = models.CharField(max_length=80)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(default=timezone.now)
    deleted = models.DateTimeField(null=True, blank=True)

    objects = ProjectQuerySet.as_manager()

    class Meta:
        ordering = ["-changed"]
        indexes = [models.Index(fields=["owner", "deleted", "-changed"])]

    def __str__(self) -> str:
        return self.name

    @property
    def states(self) -> Any:
        return self.revisions

    @property
    def design(self) -> Design:
        """The design as it stands."""
        found: Design = self.revision().design
        return found

    @property
    def shop(self) -> Shop:
        """The shop of its owner."""
        return shop_of(self.owner_id)


class Revision(State):
    """A design as it stood after one edit."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="revisions")

    class Meta(State.Meta):
        constraints = [models.UniqueConstraint(fields=["project", "number"], name="one_revision_a_number")]

    def __str__(self) -> str:
        return f"{self.project} {self.number}: {self.says}"

    @property
    def design(self) -> Design:
        """The stored document as a design; a revision never changes, so it is read once."""
        return _read(self._stored)

    def know(self, design: Design) -> None:
        """What the stored document says is known already: it need not be read."""
        told(_read, design, self._stored)

    @property
    def _stored(self) -> "_Stored":
        return _Stored(self.pk, self.created, self.project.owner_id, bytes(self.packed))


def pack(data: Any) -> bytes:
    """JSON data, compressed."""
    return zlib.compress(json.dumps(data, separators=(",", ":")).encode(), 6)


def unpack(packed: bytes) -> Any:
    """What `pack` packed."""
    return json.loads(zlib.decompress(packed))


@dataclass(frozen=True)
class _Stored:
    pk: int
    created: datetime
    owner: int
    packed: bytes = field(compare=False)


@remembered
def _read(stored: _Stored) -> Design:
    from foliant.workshop.owning import in_own_keys  # which stands on these models

    text = zlib.decompress(stored.packed).decode()
    return read_stored(json.loads(in_own_keys(text, stored.owner)))


@remembered
def _read_shop(stored: _Stored) -> Shop:
    return read_shop(unpack(stored.packed))


class Typeface(models.Model):
    """A font that a maker added. Its file never changes; `put_away` hides it from the list, not from designs."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="typefaces")
    key = models.CharField(max_length=80)
    name = models.CharField(max_length=80)
    licence = models.CharField(max_length=300)
    file = models.FileField(upload_to="fonts")
    added = models.DateTimeField(auto_now_add=True)
    put_away = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_font_a_maker")]
        indexes = [models.Index(fields=["key"])]

    def __str__(self) -> str:
        return self.name


class PictureFile(models.Model):
    """A picture that a maker added, plain and in greys; see `core.seeing.intake`. Its file never changes."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pictures")
    key = models.CharField(max_length=80)
    name = models.CharField(max_length=80)
    file = models.FileField(upload_to="pictures")
    added = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_picture_a_maker")]
        indexes = [models.Index(fields=["key"])]

    def __str__(self) -> str:
        return self.name


class DrawingFile(models.Model):
    """A drawing that a maker brought, as it came and as it was read; see `core.drawings`. Neither file ever changes.

    weight  how many segments it has
    """

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="drawings")
    key = models.CharField(max_length=80)
    name = models.CharField(max_length=120)
    came = models.FileField(upload_to="drawings")
    read = models.FileField(upload_to="drawings")
    weight = models.PositiveIntegerField()
    added = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-added"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_drawing_a_maker")]

    def __str__(self) -> str:
        return self.name


class Brought(models.Model):
    """What a maker last said of a drawing of this name in a project, so that it can be brought anew alike."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="brought")
    name = models.CharField(max_length=120)
    drawing = models.ForeignKey(DrawingFile, on_delete=models.CASCADE)
    answers = models.JSONField()
    taken = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-taken"]
        constraints = [models.UniqueConstraint(fields=["project", "name"], name="one_drawing_of_a_name")]

    def __str__(self) -> str:
        return self.name


class FontUse(models.Model):
    """What a maker thinks of a font: a favourite or not, and when it was last taken."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="font_uses")
    key = models.CharField(max_length=80)
    favourite = models.BooleanField(default=False)
    used = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_use_a_font")]

    def __str__(self) -> str:
        return f"{self.owner} {self.key}"


class Keepsake(models.Model):
    """What a maker keeps for other projects: a piece as a starter, or a shape as a motif. `put_away` hides it.

    content  of a starter its pieces as text and the addresses that it asks for; of a motif its contours; see
             `workshop.library`
    """

    class Kind(models.TextChoices):
        STARTER = "starter"
        MOTIF = "motif"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="keepsakes")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    name = models.CharField(max_length=80)
    content = models.JSONField()
    added = models.DateTimeField(auto_now_add=True)
    put_away = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class Packing(models.Model):
    """A sheet being packed by a worker beside the pages, and the best that it has found.

    The page that watches takes what was found as an edit of its own, so that nothing changes under anybody's hands;
    where none does, whoever opens the sheet next.

    answers  how many answers there were, each better than the last
    edit     what lays the best of them out, compressed
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        PACKING = "packing"
        FOUND = "found"
        TAKEN = "taken"
        FAILED = "failed"

    OPEN = (State.WAITING, State.PACKING, State.FOUND)
    BUSY = (State.WAITING, State.PACKING)
    SILENT_AFTER = timedelta(seconds=60)
    TAKEN_WITHIN = timedelta(hours=1)

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="packings")
    revision = models.PositiveIntegerField()
    bench = models.CharField(max_length=16, blank=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    seconds = models.FloatField()
    stop = models.BooleanField(default=False)
    message = models.CharField(max_length=400, blank=True)
    answers = models.PositiveIntegerField(default=0)
    placed = models.PositiveIntegerField(default=0)
    wanted = models.PositiveIntegerField(default=0)
    density = models.FloatField(default=0)
    edit = models.BinaryField(default=bytes)
    created = models.DateTimeField(auto_now_add=True)
    begun = models.DateTimeField(null=True, blank=True)
    heard = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-created"]
        constraints = [
            models.UniqueConstraint(
                fields=["project"],
                condition=models.Q(state__in=["waiting", "packing", "found"]),
                name="one_packing_a_project",
            ),
        ]

    def __str__(self) -> str:
        return f"Packing of {self.project}: {self.state}"

    @property
    def busy(self) -> bool:
        """Whether a worker is at it, or will be."""
        return self.state in self.BUSY and not self.silent

    @property
    def over(self) -> bool:
        """Whether nothing is left of it to be taken: it was, or nobody came for it in time."""
        late = self.state == self.State.FOUND and timezone.now() - self.heard > self.TAKEN_WITHIN
        return late or self.state == self.State.TAKEN

    @property
    def silent(self) -> bool:
        """Whether the worker that began it has been heard of no more."""
        return self.state == self.State.PACKING and timezone.now() - self.heard > self.SILENT_AFTER


class Run(models.Model):
    """A job, or a trace of its bounds, sent to a machine by the worker that feeds the machine at that address.

    It keeps the program that it sends, whatever becomes of the design and the shop. The worker takes the runs for an
    address one after the other; `taken` is when it began, and until then the run waits in line. It notes where the
    machine is; from when it is `ready` on, the machine may have begun. `goes_on` is the run that broke off and that it
    goes on with. The page leaves `command` for a worker that has not begun, and speaks to the machine itself.
    """

    class Kind(models.TextChoices):
        JOB = "job"
        TRACE = "trace"

    class State(models.TextChoices):
        SENDING = "sending"
        WAITING = "waiting"
        RUNNING = "running"
        HOLDING = "holding"
        DONE = "done"
        STOPPED = "stopped"
        LOST = "lost"

    HEAVY = ("program", "burnt_strokes", "takes", "used", "steps")
    ACTIVE = (State.SENDING, State.WAITING, State.RUNNING, State.HOLDING)
    SILENT_AFTER = timedelta(seconds=8)
    WHY_LOST = (
        "The helper that feeds the machine stopped, and the machine stopped with its tool off. "
        "Look at the work before you start again."
    )
    ALL_MADE = "All of it was made; then, on the way home, the machine was lost."

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="runs")
    revision = models.PositiveIntegerField()
    sheet = models.PositiveIntegerField(default=1)
    only = models.CharField(max_length=40, blank=True)
    bench = models.CharField(max_length=16, blank=True)
    lies_x = models.FloatField(default=0)
    lies_y = models.FloatField(default=0)
    turned = models.FloatField(default=0)
    goes_on = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="gone_on")
    program = models.BinaryField(default=bytes)
    steps = models.BinaryField(default=bytes)
    machine = models.CharField(max_length=60)
    address = models.CharField(max_length=80)
    language = models.CharField(max_length=8, default="lines")
    kind = models.CharField(max_length=8, choices=Kind.choices)
    state = models.CharField(max_length=8, choices=State.choices, default=State.SENDING)
    message = models.CharField(max_length=400, blank=True)
    command = models.CharField(max_length=8, blank=True)
    moves = models.PositiveIntegerField(default=0)
    done = models.PositiveIntegerField(default=0)
    estimate = models.FloatField(default=0)
    clock = models.FloatField(default=0)
    x = models.FloatField(default=0)
    y = models.FloatField(default=0)
    power = models.FloatField(default=0)
    taken = models.DateTimeField(null=True, blank=True)
    ready = models.BooleanField(default=False)
    heard = models.DateTimeField(default=timezone.now)
    created = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True, blank=True)
    burnt_strokes = models.BinaryField(default=bytes)
    takes = models.BinaryField(default=bytes)
    used = models.BinaryField(default=bytes)
    gives_back = models.BinaryField(default=bytes)

    class Meta:
        ordering = ["-created"]
        indexes = [models.Index(fields=["address", "state"], name="runs_at_an_address")]
        constraints = [
            models.UniqueConstraint(
                fields=["project"],
                condition=models.Q(state__in=["sending", "waiting", "running", "holding"]),
                name="one_run_a_project",
            ),
            models.UniqueConstraint(
                fields=["address"],
                condition=models.Q(state__in=["sending", "waiting", "running", "holding"], taken__isnull=False),
                name="one_run_at_an_address",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind} of {self.project} on {self.machine}: {self.state}"

    @property
    def active(self) -> bool:
        """Whether the worker should be busy with it."""
        return self.state in self.ACTIVE

    @property
    def silent(self) -> bool:
        """Whether the worker that took it has noted nothing for a while (killed, say). One that waits is not silent."""
        return self.active and self.taken is not None and timezone.now() - self.heard > self.SILENT_AFTER

    @property
    def all_made(self) -> bool:
        """Whether it is a job that has only its way home before it."""
        return self.kind == self.Kind.JOB and 0 < self.moves <= self.done

    @property
    def forsaken(self) -> tuple[State, str]:
        """What became of it where its worker is gone, and why."""
        return (self.State.DONE, self.ALL_MADE) if self.all_made else (self.State.LOST, self.WHY_LOST)

    @property
    def in_line(self) -> bool:
        """Whether it waits for its turn."""
        return self.active and self.taken is None

    @property
    def before(self) -> models.QuerySet["Run"]:
        """The runs that come before it at its machine, the first of all first."""
        found = Run.objects.filter(address=self.address, state__in=self.ACTIVE, created__lt=self.created)
        return found.order_by("created").defer(*self.HEAVY)

    @property
    def lie(self) -> Lie:
        """Where on the bed its sheet lies."""
        return Lie(self.lies_x, self.lies_y, self.turned)

    @property
    def broke_off(self) -> bool:
        """Whether it is a job that ended before all of it was made, once something may be, and was not gone on with."""
        lost = self.state == self.State.LOST or self.silent
        ended = lost or self.state == self.State.STOPPED
        begun = self.done > 0 or self.clock > 0 or (lost and self.ready)
        left = self.kind == self.Kind.JOB and ended and begun and self.done < self.moves
        return left and not self.gone_on.filter(models.Q(done__gt=0) | models.Q(clock__gt=0)).exists()

    @property
    def to_go_on_with(self) -> "Run | None":
        """The run that is gone on with after it: itself, or what it was to go on with where it made nothing of that."""
        if self.broke_off:
            return self
        ended = not self.active or self.silent
        return self.goes_on.to_go_on_with if self.goes_on and ended and not self.done else None

    @property
    def doing(self) -> str:
        """What it does, or did last."""
        steps: Any = unpack(bytes(self.steps)) if self.steps else []
        return doing(steps, self.done)

    @property
    def lines(self) -> Iterator[str]:
        """The program: the lines that the machine is sent."""
        return read_lines(bytes(self.program))

    @property
    def burnt(self) -> list[list[float]]:
        """The strokes that the machine says it has burnt (see `core.machine.panel`)."""
        return json.loads(zlib.decompress(bytes(self.burnt_strokes))) if self.burnt_strokes else []

    @burnt.setter
    def burnt(self, strokes: list[list[float]]) -> None:
        self.burnt_strokes = zlib.compress(json.dumps(strokes).encode())
