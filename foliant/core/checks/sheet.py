"""Whether what is wanted lies well on the sheet and within the machine."""

from collections import Counter
from collections.abc import Iterator

import numpy as np
import shapely

from foliant.core.checks.finding import Bounds, Finding, Fix, say
from foliant.core.design import Piece
from foliant.core.design.binding import tied_pieces
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.sheet import ArrangeInRows, PlaceInstance, TakeStock
from foliant.core.design.edits.splitting import SplitPiece, is_larger
from foliant.core.design.turning import turned
from foliant.core.layout import lay_out, lay_sheets
from foliant.core.layout.jigs import slot_of
from foliant.core.ticket import Job

_SLACK = 0.001
_EDGE = 0.05
_INWARD = 2.0
_MOST_TOLD = 20
_IN_ROWS = Fix("Arrange in rows", ArrangeInRows(do="arrange-in-rows"))


def sheet_is_not_empty(job: Job) -> Iterator[Finding]:
    """There must be something to make."""
    if not job.layout.instances and not job.layout.left_over:
        yield Finding(
            "sheet_is_not_empty",
            "stop",
            "Nothing lies on the sheet",
            "Nothing lies on the sheet, so there is nothing to run: draw a piece, and ask for at least one of it.",
            "sheet",
        )


def everything_fits(job: Job) -> Iterator[Finding]:
    """What found no room on the sheet will not be made."""
    placed = Counter(laid.piece.id for layout in lay_sheets(job.design) for laid in layout.instances)
    for piece, count in job.layout.left_over:
        wanted = placed[piece.id] + count
        yield Finding(
            "everything_fits",
            "look",
            f"{count} of {piece.name} without room",
            f"{count} of {wanted} {piece.name} found no room on any sheet and will not be made: take a larger sheet, "
            "or a smaller margin, or split it.",
            "sheet",
            piece.id,
            fixes=(*_turning(job), *_roomier(job), *_split(job, piece)),
        )


def the_shelf_has_enough_sheets(job: Job) -> Iterator[Finding]:
    """As many sheets have to be there as the pieces take."""
    stock, needed = job.design.stock, job.layout.count
    source = next((sheet for sheet in job.shop.shelf if stock.source and sheet.key == stock.source), None)
    if source is None or source.used or needed <= max(source.count, 1):
        return
    there = "one is" if source.count == 1 else f"{source.count} are"
    yield Finding(
        "the_shelf_has_enough_sheets",
        "look",
        f"{needed} sheets are needed",
        f"The pieces take {needed} sheets, and {there} on the shelf: pack them close together, or ask for fewer.",
        "sheet",
    )


def _turning(job: Job) -> Iterator[Fix]:
    """Pieces turned a quarter, where that makes room for all."""
    edit = Change(do="change", of="sheet", values={"turning": "quarter"})
    if 90.0 not in job.design.sheet.turns and not lay_out(edit.apply(job.design)).left_over:
        yield Fix("Let pieces be turned by quarters", edit)


def _roomier(job: Job) -> Iterator[Fix]:
    """A sheet from the shelf that this machine takes and on which all find room."""
    design, unit, bed = job.design, job.design.unit, (job.machine.bed_width, job.machine.bed_height)
    larger = [
        sheet
        for sheet in job.shop.shelf
        if sheet.material == design.stock.material and sheet.count and sheet.width <= bed[0] and sheet.height <= bed[1]
    ]
    for sheet in sorted(larger, key=lambda sheet: sheet.width * sheet.height):
        edit = TakeStock.of(sheet)
        same = abs(sheet.thickness - design.stock.thickness) < _SLACK
        if same and not lay_out(edit.apply(design)).left_over:
            yield Fix(f"Take a sheet of {say(sheet.width, unit)} × {say(sheet.height, unit)}", edit)
            break


def _split(job: Job, piece: Piece) -> Iterator[Fix]:
    """What is larger than a whole sheet, in pieces that are put together again."""
    if not is_larger(piece, job.design) or piece.id in tied_pieces(job.design):
        return
    for joint in ("wavy", "straight"):
        yield Fix(f"Split it, with {joint} joints", SplitPiece(do="split-piece", piece=piece.id, joint=joint))


def the_sheet_is_not_cut_along_its_edge(job: Job) -> Iterator[Finding]:
    """A cut along the edge of the sheet has nothing beyond it to hold, and is there already."""
    stock = job.design.stock
    for instance in job.layout.instances:
        left, top, right, bottom = instance.bounds
        touches = [abs(left), abs(top), abs(right - stock.width), abs(bottom - stock.height)]
        if min(touches) > _EDGE or left < -_SLACK or top < -_SLACK:
            continue
        if right > stock.width + _SLACK or bottom > stock.height + _SLACK:
            continue  # that is said already
        fits = right - left + 2 * _INWARD <= stock.width and bottom - top + 2 * _INWARD <= stock.height
        margin = Change(do="change", of="sheet", values={"margin": _INWARD})
        place = PlaceInstance(
            do="place",
            piece=instance.piece.id,
            row=instance.instance.row,
            number=instance.number,
            sheet=job.layout.number,
            x=min(max(left, _INWARD), stock.width - _INWARD - (right - left)),
            y=min(max(top, _INWARD), stock.height - _INWARD - (bottom - top)),
        )
        inward = Fix(f"Move it {say(_INWARD, job.design.unit)} inward", place if instance.place else margin)
        yield Finding(
            "the_sheet_is_not_cut_along_its_edge",
            "look",
            f"{instance.label} is cut along the edge of the sheet",
            f"{instance.label} lies on the edge of the sheet, so it is cut where the sheet ends already, and leaves a "
            "strip or a gap where that is not quite straight. Move it inward, or take a larger sheet.",
            "sheet",
            instance.piece.id,
            instance.bounds,
            fixes=(inward,) if fits else (),
        )
        return


def nothing_sticks_out(job: Job) -> Iterator[Finding]:
    """An instance must lie on the material, and the material within the bed."""
    stock, machine, unit = job.design.stock, job.machine, job.design.unit
    if stock.width > machine.bed_width or stock.height > machine.bed_height:
        sheet = f"{say(stock.width, unit)} × {say(stock.height, unit)}"
        bed = f"{say(machine.bed_width, unit)} × {say(machine.bed_height, unit)}"
        reach = job.layout.bounds
        outside = reach[2] > machine.bed_width or stock.height - reach[1] > machine.bed_height
        yield Finding(
            "nothing_sticks_out",
            "stop" if outside else "look",
            f"The sheet is larger than the bed of {machine.name}",
            f"The sheet is {sheet} and the bed of {machine.name} is {bed}"
            + (": some pieces lie beyond it. " if outside else "; the pieces lie within it. ")
            + "Take a smaller sheet or another machine.",
            "sheet",
            place=reach,
            fixes=tuple(_within_the_bed(job)),
        )
    for instance in job.layout.instances:
        resolved, (dx, dy) = instance.resolved, instance.shift
        marks = (resolved.engraved.path, resolved.strokes, resolved.slits, resolved.scored)
        moved = [(b[0] + dx, b[1] + dy, b[2] + dx, b[3] + dy) for b in (path.bounds for path in marks if len(path))]
        reach = _reach(instance.bounds, *moved)
        out = max(-reach[0], -reach[1], reach[2] - stock.width, reach[3] - stock.height)
        if out > _SLACK:
            yield Finding(
                "nothing_sticks_out",
                "stop",
                f"{instance.label} lies outside the sheet",
                f"{instance.label} reaches {say(max(out, 0.1), unit)} beyond the edge of the sheet: move it inward, "
                "or arrange in rows again.",
                "sheet",
                instance.piece.id,
                instance.bounds,
                instance.on_sheet(instance.instance.resolved.outline.path),
                (_IN_ROWS,) if instance.place else (),
            )


def _within_the_bed(job: Job) -> Iterator[Fix]:
    """A machine whose bed is large enough, and the sheet cut down to the bed."""
    stock, machine = job.design.stock, job.machine
    for other in job.shop.machines:
        if stock.width <= other.bed_width and stock.height <= other.bed_height:
            edit = Change(do="change", of="ticket", values={"machine": other.key})
            yield Fix(f"Take {other.name}", edit)
            break
    size = {"width": min(stock.width, machine.bed_width), "height": min(stock.height, machine.bed_height)}
    yield Fix("Cut the sheet down to the bed", Change(do="change", of="stock", values=size))


def nothing_overlaps(job: Job) -> Iterator[Finding]:
    """Two instances must not lie over each other."""
    instances = job.layout.instances
    if len(instances) < 2:
        return
    # Only those whose boxes meet are looked at more closely, which is none of those in rows.
    boxes = shapely.box(*np.array([instance.bounds for instance in instances]).T)
    first, second = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    near = first < second
    told = 0
    for i, j in zip(first[near].tolist(), second[near].tolist(), strict=True):
        over = shapely.intersection(instances[i].shape_on_sheet(), instances[j].shape_on_sheet())
        if over.area > _SLACK and (told := told + 1) <= _MOST_TOLD:
            yield Finding(
                "nothing_overlaps",
                "stop",
                f"{instances[i].label} and {instances[j].label} overlap",
                f"{instances[i].label} and {instances[j].label} lie over each other on the sheet, so both would be "
                "spoilt: drag one away, or arrange in rows again.",
                "sheet",
                instances[j].piece.id,
                over.bounds,
                instances[j].on_sheet(instances[j].instance.resolved.outline.path),
                (_IN_ROWS,),
            )


def nothing_lies_on_what_is_gone(job: Job) -> Iterator[Finding]:
    """Where a begun sheet is gone there is nothing to cut."""
    gone = shapely.union_all(job.layout.gone)
    if gone.is_empty:
        return
    shapely.prepare(gone)
    shapes = [instance.shape_on_sheet() for instance in job.layout.instances]
    over = [i for i, near in enumerate(shapely.intersects(gone, shapes).tolist()) if near]
    for i in [i for i in over if shapely.intersection(gone, shapes[i]).area > _SLACK][:_MOST_TOLD]:
        instance = job.layout.instances[i]
        yield Finding(
            "nothing_lies_on_what_is_gone",
            "stop",
            f"{instance.label} lies where the sheet is gone",
            f"{instance.label} reaches over a place where this sheet was cut already: drag it away, or arrange in rows "
            "again, which goes round what is gone.",
            "sheet",
            instance.piece.id,
            instance.bounds,
            instance.on_sheet(instance.instance.resolved.outline.path),
            (_IN_ROWS,),
        )


def packed_pieces_are_as_they_were(job: Job) -> Iterator[Finding]:
    """A piece that was packed and has changed keeps its place, which may be too tight or too wide now."""
    changed = [instance for instance in job.layout.instances if instance.outdated]
    if not changed:
        return
    first = changed[0]
    others = f" and {len(changed) - 1} more have" if len(changed) > 1 else " has"
    yield Finding(
        "packed_pieces_are_as_they_were",
        "look",
        "Pieces have changed since they were packed",
        f"{first.label}{others} another outline than when the sheet was packed, and kept the place: pack the sheet "
        "again, or arrange it in rows.",
        "sheet",
        first.piece.id,
        first.bounds,
        fixes=(_IN_ROWS,),
    )


def pieces_lie_within_their_slots(job: Job) -> Iterator[Finding]:
    """What is larger than the slot it lies in is no thing of that jig."""
    jig = job.design.sheet.jig
    if jig is None:
        return
    unit = job.design.unit
    for instance in job.layout.instances:
        slot = slot_of(jig, instance)
        wide, high = _size(turned(instance.instance.resolved, instance.turn - slot.turn).bounds)
        room = _size(slot.box)
        if instance.place or (wide <= room[0] + _EDGE and high <= room[1] + _EDGE):
            continue
        yield Finding(
            "pieces_lie_within_their_slots",
            "look",
            f"{instance.label} is larger than its slot",
            f"{instance.label} is {say(wide, unit)} × {say(high, unit)}, and slot {slot.number} of "
            f"{jig.name} is {say(room[0], unit)} × {say(room[1], unit)}: make the piece smaller, or take another jig.",
            "sheet",
            instance.piece.id,
            instance.bounds,
        )
        return


def _size(box: Bounds) -> tuple[float, float]:
    return box[2] - box[0], box[3] - box[1]


def _reach(*boxes: Bounds) -> Bounds:
    """The bounds of all boxes that are not empty."""
    real = [box for box in boxes if box[2] > box[0] or box[3] > box[1]]
    left, top, right, bottom = zip(*real, strict=True)
    return (min(left), min(top), max(right), max(bottom))
