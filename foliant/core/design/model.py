"""The design document: pieces and their parts, the sheet they lie on, and the ticket.

`docs/design-file.md` is the specification of its JSON. All lengths are mm; x runs right, y down.
"""

from typing import Annotated, Final, Literal

import shapely
from pydantic import AfterValidator, Field, model_validator

from foliant.core.design.holds import Axis, Hold
from foliant.core.design.names import Identifier, Name
from foliant.core.design.operations import STANDARD_OF, TAKER, Ticket
from foliant.core.design.references import ReferencePoint
from foliant.core.design.repeats import AnyRepeat
from foliant.core.design.roster import Roster, Ties
from foliant.core.design.shapes import AnyShape, Shape
from foliant.core.design.treatments import Treated, Treatments
from foliant.core.equipment import Jig, Material, Used, gone
from foliant.core.equipment.jigs import MOST_SLOTS
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen, Texts
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Across, Down, Quantity, Rotation, sized
from foliant.core.units import Unit
from foliant.core.works import find_work

FORMAT: Final = "foliant-design"
VERSION: Final = 4

Role = Literal["adds", "cuts", "engraves", "scores", "guides"]
ROLES: dict[Role, str] = {
    "adds": "adds material",
    "cuts": "cuts away",
    "engraves": "engraves",
    "scores": "scores",
    "guides": "guides",
}
MOST_PIECES = 200
MOST_PARTS = 2000
MOST_COPIES_ON_A_PIECE = 3000
MOST_PLACES = 10_000
MOST_SHEETS = 50
MOST_BENCHES = 12
"""Materials that a project is cut from, beside its first."""
MOST_SHEETS_IN_ALL = MOST_SHEETS * (1 + MOST_BENCHES)


def _check_roles(roles: tuple[Role, ...]) -> tuple[Role, ...]:
    found = set(roles)
    if not found:
        raise Refused("A part plays at least one role.")
    if "guides" in found and len(found) > 1:
        raise Refused("A guide is only looked at: it cannot be made at the same time.")
    if "cuts" in found and len(found) > 1:
        raise Refused("What cuts away leaves no material that could be added to or marked there.")
    return tuple(role for role in ROLES if role in found)


Roles = Annotated[tuple[Role, ...], AfterValidator(_check_roles)]


class Part(Frozen):
    """A shape put on a piece at (x, y), turned clockwise by `rotation`, with the roles it plays.

    operations    the operation of the ticket that takes it for a role, where not the usual one
    ties          its values that come from the roster
    flipped       mirrored left to right, before it is turned
    reference     the point of its box that its place is said by, and that stays when it is sized
    proportional  whether it keeps its proportions when one size is changed
    locked        whether it stays as it is until it is unlocked
    hidden        whether it is set aside: neither shown nor made
    group         the group it belongs to, or None
    across, down  what it is held to, one way and the other
    repeat        how it is shown many times
    treatments    what is done to its outline
    """

    id: Identifier
    roles: Roles
    shape: AnyShape
    x: Across = 0.0
    y: Down = 0.0
    rotation: Rotation = 0.0
    flipped: bool = False
    reference: ReferencePoint = "middle"
    proportional: bool = False
    locked: bool = False
    hidden: bool = False
    group: Identifier | None = None
    across: Hold | None = None
    down: Hold | None = None
    repeat: AnyRepeat | None = None
    treatments: Treatments = Treatments()
    operations: Texts = ()
    ties: Ties = ()

    def plays(self, *roles: Role) -> bool:
        """Whether it plays one of these roles."""
        return any(role in self.roles for role in roles)

    @property
    def form(self) -> Shape | Treated:
        """Its outline about its own origin: the shape as it is treated."""
        shape = self.shape.made_in(self.roles)
        if self.treatments == _UNTREATED:
            return shape
        return Treated.model_construct(shape=shape, treatments=self.treatments)

    @property
    def made_of(self) -> tuple[str, ...]:
        """The parts that it follows, where it is made from others or goes along them."""
        return self.shape.follows

    def hold(self, axis: Axis) -> Hold | None:
        """What it is held to along an axis."""
        return self.across if axis == "across" else self.down


_UNTREATED = Treatments()


class Group(Frozen):
    """Parts that are chosen as one; `group` is the group that this one lies in, or None."""

    id: Identifier
    group: Identifier | None = None


BenchIfAny = Annotated[str, Field(pattern=r"^([a-z][a-z0-9]{0,15})?$")]


class Piece(Frozen):
    """One physical thing that comes off the sheet, and how many of it are wanted.

    bench       which of the project's benches it is cut on: see `Bench`; "" for the first
    operations  the operation of the ticket that takes a mark of it, where not the usual one: see `Mark`
    ties        its values that come from the roster
    raises      the part of another piece that is cut out as this one and applied there: its only part is that one, and
                settling keeps it so
    unread      the JSON of a piece that this version of Foliant cannot read, kept until one can; else empty
    """

    id: Identifier
    name: Name
    copies: Annotated[int, Quantity("count", "The number of pieces", 0, 500)] = 1
    parts: tuple[Part, ...] = ()
    groups: tuple[Group, ...] = ()
    bench: BenchIfAny = ""
    operations: Texts = ()
    ties: Ties = ()
    raises: Annotated[str, Field(pattern=r"^([a-z][a-z0-9]{0,15})?$")] = ""
    unread: str = ""

    def part(self, part_id: str) -> Part:
        """The part of that id; raises `Refused`."""
        for part in self.parts:
            if part.id == part_id:
                return part
        raise Refused("That part is no longer on the piece.")

    def taker(self, mark: str, part: Part | None = None) -> str:
        """The operation that takes a mark of the piece, or a role of a part: that of the part, or else of the piece."""
        side = {"adds": "outer", "cuts": "inner"}.get(mark, mark)
        if side == "engraves" and part and part.shape.look:
            side = "pictures"
        own = dict(part.operations).get(mark) if part else None
        return own or dict(self.operations).get(side) or TAKER[side]

    @property
    def tied(self) -> bool:
        """Whether values of it come from the roster, so that there is one of it for each row."""
        return bool(self.ties) or any(part.ties for part in self.parts)

    def all_ties(self) -> list[tuple[str, str]]:
        """Its values that come from the roster, and those of its parts, as (address, stored template)."""
        found = [(self.id, tie) for tie in self.ties] + [(part.id, tie) for part in self.parts for tie in part.ties]
        return [(f"{key.partition(' ')[0]} {one} {key.partition(' ')[2]}", says) for one, (key, says) in found]

    @property
    def combined(self) -> frozenset[str]:
        """The parts that a combination is made of, so that they are not made themselves."""
        return frozenset(one for part in self.parts for one in part.shape.members)

    @property
    def made(self) -> tuple[Part, ...]:
        """The parts that are made: neither set aside, nor only a part of a combination."""
        combined = self.combined
        return tuple(part for part in self.parts if not part.hidden and part.id not in combined)


def _too_many(piece: Piece) -> bool:
    counts = (part.repeat.copies for part in piece.parts if part.repeat)
    return sum(counts) > MOST_COPIES_ON_A_PIECE


class Stock(Frozen):
    """The material on the bench: what it is, its size in mm, how thick it was measured to be, how thin it may get.

    material  the key of a material of the shop
    source    the key of the sheets on the shelf that this was taken from, or ""
    price     what a sheet costs
    used      the outlines of what is gone of a begun sheet
    """

    material: Annotated[str, Quantity("choice", "The material", open=True)] = "birch-ply"
    width: Annotated[float, sized("The width of the stock", 10)] = 300.0
    height: Annotated[float, sized("The height of the stock", 10)] = 200.0
    thickness: Annotated[float, sized("The thickness", 0.05, 50)] = 3.0
    thinnest: Annotated[float | None, sized("The thinnest material that holds", 0.05, 50)] = None
    measured: Annotated[float | None, sized("The measured thickness", 0.05, 50)] = None
    price: Annotated[float, Quantity("money", "The price of the sheet", 0, 100_000)] = 0.0
    source: Annotated[str, Field(pattern=r"^([a-z0-9][a-z0-9-]{0,39})?$")] = ""
    used: Used = ()

    def sentence(self) -> list[Bit]:
        """The sheet as a phrase, its values in place."""
        size: list[Bit] = [Value("width"), " × ", Value("height")]
        return [Value("thickness"), " ", Value("material"), ", measured ", Value("measured"), ", ", *size]

    @property
    def actual(self) -> float:
        """How thick it is: as measured, or else as it is sold, mm."""
        return self.thickness if self.measured is None else self.measured

    @property
    def gone(self) -> tuple[shapely.Polygon, ...]:
        """What is gone of it, as areas."""
        return gone(self.used)

    def limit(self, material: Material) -> float:
        """The thinnest web of it that holds: as the maker says, or else as is known of the material, mm."""
        return material.thinnest if self.thinnest is None else self.thinnest


RowIfAny = Annotated[str, Field(pattern=r"^([a-z][a-z0-9]{0,15})?$")]


class Place(Frozen):
    """Where one instance was put: its piece's origin on a sheet, and how far it is turned about that, clockwise.

    sheet   which of the sheets that the project takes, from 1
    row     the id of its row, or "" where its piece takes nothing from the roster
    locked  whether packing leaves it where it is
    proved  a digest of the outline that packing found this place for, or "" where it was put by hand
    """

    piece: Identifier
    row: RowIfAny = ""
    number: int = Field(ge=1)
    sheet: int = Field(1, ge=1, le=MOST_SHEETS)
    x: Across
    y: Down
    turn: Rotation = 0.0
    locked: bool = False
    proved: Annotated[str, Field(pattern=r"^([0-9a-f]{12})?$")] = ""

    @property
    def of(self) -> tuple[str, str, int]:
        """Which instance it is the place of."""
        return (self.piece, self.row, self.number)


Turning = Literal["none", "half", "quarter", "eighth", "fine"]
TURNS: dict[Turning, tuple[str, float]] = {
    "none": ("not turned", 360),
    "half": ("turned by halves", 180),
    "quarter": ("turned by quarters", 90),
    "eighth": ("turned by eighths", 45),
    "fine": ("turned by 15°", 15),
}
"""How pieces may be turned when they are packed: how that is said, and the step in degrees."""

Inside = Literal["inside", "outside"]
INSIDE: dict[Inside, str] = {"inside": "small ones inside large", "outside": "none inside others"}


class Sheet(Frozen):
    """How pieces are laid on the stock: the margin, the gap between them, how they may be packed, and where those lie
    that were packed or moved by hand; or the jig into whose slots they go, and the numbers of those that are off.
    """

    margin: Annotated[float, sized("The margin", 0, 500)] = 4.0
    gap: Annotated[float, sized("The gap", 0, 500)] = 2.0
    turning: Annotated[
        Turning, Quantity("choice", "How pieces may be turned", choices=tuple((k, v[0]) for k, v in TURNS.items()))
    ] = "quarter"
    jig: Jig | None = None
    off: tuple[int, ...] = Field((), max_length=MOST_SLOTS)
    inside: Annotated[Inside, Quantity("choice", "What may lie inside others", choices=tuple(INSIDE.items()))] = (
        "inside"
    )
    places: tuple[Place, ...] = Field((), max_length=MOST_PLACES)

    @property
    def turns(self) -> tuple[float, ...]:
        """The rotations in which packing may lay a piece, degrees."""
        step = TURNS[self.turning][1]
        return tuple(step * i for i in range(round(360 / step)))

    def sentence(self) -> list[Bit]:
        """How pieces are laid and packed, as a phrase."""
        apart: list[Bit] = [Value("gap"), " apart, ", Value("margin"), " from the edge; packed, they are "]
        return [*apart, Value("turning"), ", ", Value("inside")]


class Bench(Frozen):
    """What some pieces of a project are cut from where that is not its first material: that stock, how they are laid on
    its sheets, and the ticket for them.
    """

    id: BenchIfAny
    stock: Stock = Stock()
    sheet: Sheet = Sheet()
    ticket: Ticket = Ticket()


class Card(Frozen):
    """What a test card tries: a work, a setting across with a value for each column, one down for each row, and the
    operations of its fields, row by row; or without rows and fields, a gauge of the setting across.
    """

    work: Annotated[str, Quantity("words", "The work", check_text=lambda key: find_work(key).key)]
    across: Annotated[str, Field(max_length=20)]
    columns: tuple[float, ...] = Field(min_length=1, max_length=40)
    down: Annotated[str, Field(max_length=20)] = ""
    rows: tuple[float, ...] = Field((), max_length=40)
    fields: tuple[Identifier, ...] = Field((), max_length=400)


UNNAMED = "New project"
"""What a project is called until it is named, or has words on it."""


class Design(Frozen):
    """A whole project's design. `serial` numbers what is put into it, so that ids are never used twice.

    `stock`, `sheet` and `ticket` are those of one bench, and `benches` are the others; see `on_bench`. A stored design
    stands on its first bench, whose id is "".
    """

    format: Literal["foliant-design"] = FORMAT
    version: Literal[4] = VERSION
    name: Name = UNNAMED
    unit: Unit = "mm"
    nudge: Annotated[float, sized("The nudge", 0.01, 100)] = 0.5
    serial: int = Field(0, ge=0)
    pieces: tuple[Piece, ...] = Field((), max_length=MOST_PIECES)
    roster: Roster = Roster()
    stock: Stock = Stock()
    sheet: Sheet = Sheet()
    ticket: Ticket = Ticket()
    bench: BenchIfAny = Field("", exclude=True)
    benches: tuple[Bench, ...] = Field((), max_length=MOST_BENCHES)
    card: Card | None = None

    @model_validator(mode="after")
    def _ids_differ(self) -> "Design":
        ids = [piece.id for piece in self.pieces]
        for piece in self.pieces:
            ids += [part.id for part in piece.parts] + [group.id for group in piece.groups]
        for ticket in (self.ticket, *(bench.ticket for bench in self.benches)):
            own = [operation.id for operation in ticket.operations]
            ids += own if len(set(own)) < len(own) else set(own) - set(STANDARD_OF)
        ids += [self.bench, *(bench.id for bench in self.benches)]
        ids += [column.id for column in self.roster.columns] + [row.id for row in self.roster.rows]
        if len(set(ids)) < len(ids):
            raise Refused("Two things of the design have the same id.")
        if lost := {piece.bench for piece in self.pieces} - {self.bench, *(bench.id for bench in self.benches)}:
            raise Refused(f"A piece is cut from a material “{min(lost)}” that the design does not have.")
        count = sum(len(piece.parts) for piece in self.pieces)
        if count > MOST_PARTS:
            raise Refused(f"A project holds at most {MOST_PARTS:,} parts, and this would make {count:,}.")
        if any(_too_many(piece) for piece in self.pieces):
            raise Refused(f"The repeats on one piece make at most {MOST_COPIES_ON_A_PIECE:,} copies together.")
        return self

    def piece(self, piece_id: str) -> Piece:
        """The piece of that id; raises `Refused`."""
        for piece in self.pieces:
            if piece.id == piece_id:
                return piece
        raise Refused("That piece is no longer in the project.")
