"""Filling what is left of a sheet with more of one piece."""

from foliant.core.design import Design, Piece, Place
from foliant.core.design.benches import on_bench
from foliant.core.design.binding import tied_pieces
from foliant.core.design.edits.sheet import PutPacked
from foliant.core.design.lying import digest_of
from foliant.core.design.resolve import resolve
from foliant.core.errors import Refused
from foliant.core.layout.laid import Laid, Layout
from foliant.core.layout.rows import at_sheet, lay_out, lay_sheets
from foliant.core.packing import Bed, Packed, Put, Stamp, Task, fill
from foliant.core.packing.room import largest_rectangle
from foliant.core.remembering import remembered

MOST_COPIES = 500
"""As many as one piece may be asked for."""


def filled(design: Design, piece_id: str, sheet: int = 1, most: int = MOST_COPIES) -> PutPacked:
    """The edit that asks for as many more of a piece as what is left of a sheet takes, and lays them, up to so many;
    everything else stays where it lies. Raises `Refused` where none fits, or the piece comes once for each row.
    """
    design, sheet = at_sheet(design, sheet)
    piece = design.piece(piece_id)
    if piece.bench != design.bench:
        raise Refused(f"{piece.name} is cut from another material.")
    if piece_id in tied_pieces(design):
        raise Refused(f"{piece.name} comes once for each row of the roster: add rows, or ask for more of each.")
    puts = more_of(design, piece, sheet).puts[:most]
    if not puts:
        raise Refused(f"No more of {piece.name} finds a place on what is left of the sheet.")
    digest = digest_of(resolve(piece))
    stay = tuple(_place(laid, layout.number) for layout in lay_sheets(design) for laid in layout.instances)
    number_there = lay_out(design, sheet).number
    new = tuple(_new(piece, piece.copies + number, number_there, put, digest) for number, put in enumerate(puts, 1))
    asks = ((piece_id, piece.copies + len(puts)),)
    return PutPacked(do="pack", places=(*stay, *new), asks=asks, bench=design.bench)


def more_of(design: Design, piece: Piece, number: int = 1) -> Packed:
    """As many more of a piece as what is left of a sheet takes, by one pass."""
    layout = lay_out(design, number)
    resolved = resolve(piece)
    area = resolved.outline.path.area
    taken = tuple(laid.shape_on_sheet() for laid in layout.instances) + layout.gone
    most = min(MOST_COPIES - piece.copies, int((layout.area - layout.taken) / area) if area > 0 else 0)
    if resolved.trouble or most <= 0:
        return Packed(Task(Bed(layout.width, layout.height), (), ()), ())
    sheet = design.sheet
    bed = Bed(layout.width, layout.height, sheet.margin, taken)
    stamps = (Stamp(resolved.outline.shape, sheet.turns),)
    return fill(Task(bed, stamps, (0,) * most, sheet.gap, sheet.inside == "inside"))


def fit_on_a_sheet(design: Design, piece: Piece) -> int:
    """How many of a piece a whole sheet of the stock takes, packed by one pass."""
    design = on_bench(design, piece.bench)
    bare = design.model_copy(
        update={
            "pieces": (piece.model_copy(update={"copies": 0}),),
            "bench": piece.bench,
            "benches": (),
            "stock": design.stock.model_copy(update={"used": ()}),
            "sheet": design.sheet.model_copy(update={"places": ()}),
        }
    )
    return len(more_of(bare, bare.pieces[0]).puts)


@remembered
def room_left(layout: Layout) -> tuple[float, float]:
    """The width and height of the largest rectangle of a sheet that is left when what lies there is cut, mm."""
    taken = [laid.shape_on_sheet() for laid in layout.instances] + list(layout.gone)
    left, top, right, bottom = largest_rectangle(layout.width, layout.height, taken)
    return right - left, bottom - top


def _place(laid: Laid, sheet: int) -> Place:
    """The place at which something lies, as packing leaves it."""
    digest = digest_of(laid.instance.resolved)
    if laid.place:
        return laid.place.model_copy(update={"proved": digest})
    names = {"piece": laid.piece.id, "row": laid.instance.row, "number": laid.number}
    return Place(**names, sheet=sheet, x=laid.x, y=laid.y, proved=digest)


def _new(piece: Piece, number: int, sheet: int, put: Put, digest: str) -> Place:
    return Place(piece=piece.id, number=number, sheet=sheet, x=put.x, y=put.y, turn=put.turn, proved=digest)
