"""Whether each piece is sound by itself. These checks look at one piece, wherever it lies.

To add one: write a generator of `Finding`s that takes a `Bench`, in the piece's own coordinates, and name it in
`PIECE_CHECKS`.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
import shapely

from foliant.core.checks.bench import Bench
from foliant.core.checks.bodies import bodies_hold_together, pieces_have_material, slits_part_nothing
from foliant.core.checks.doubled import nothing_lies_twice
from foliant.core.checks.finding import Finding
from foliant.core.checks.legible import letters_can_be_read
from foliant.core.checks.letters import letters_stand_clear
from foliant.core.checks.marks import marks_lie_on_the_piece
from foliant.core.checks.overlaid import nothing_is_marked_twice
from foliant.core.checks.parts import (
    holes_keep_their_margin,
    lines_are_closed,
    nothing_is_set_aside,
    parts_do_something,
    what_parts_are_made_of_is_here,
    words_can_be_set,
)
from foliant.core.checks.pictures import pictures_show_something
from foliant.core.checks.proving import proved
from foliant.core.checks.tactile import letters_are_read_by_touch, pictograms_have_their_field
from foliant.core.checks.thin import material_is_not_too_thin, openings_can_be_cut
from foliant.core.checks.touch import (
    braille_has_the_size_that_is_read,
    braille_says_its_words,
    braille_stands_clear,
    braille_tells_what_is_written,
)
from foliant.core.checks.trouble import curves_are_kept, piece_can_be_worked_out
from foliant.core.design import Design, Edit, Piece, resolve
from foliant.core.design.benches import cut_here, on_bench
from foliant.core.design.binding import tied_pieces
from foliant.core.design.raising import raised_from
from foliant.core.equipment import Shop
from foliant.core.layout import Laid
from foliant.core.remembering import remembered
from foliant.core.ticket import Job, cut_width
from foliant.core.ticket.sorting import sort_marks

PIECE_CHECKS: tuple[Callable[[Bench], Iterator[Finding]], ...] = (
    pieces_have_material,
    bodies_hold_together,
    slits_part_nothing,
    material_is_not_too_thin,
    openings_can_be_cut,
    marks_lie_on_the_piece,
    nothing_lies_twice,
    nothing_is_marked_twice,
    words_can_be_set,
    letters_can_be_read,
    letters_stand_clear,
    what_parts_are_made_of_is_here,
    pictures_show_something,
    holes_keep_their_margin,
    lines_are_closed,
    parts_do_something,
    braille_says_its_words,
    braille_has_the_size_that_is_read,
    braille_stands_clear,
    braille_tells_what_is_written,
    letters_are_read_by_touch,
    pictograms_have_their_field,
    nothing_is_set_aside,
    curves_are_kept,
)


def check_piece(design: Design, piece: Piece, shop: Shop) -> tuple[Finding, ...]:
    """Every finding about one piece, in its own coordinates, those that stop the job first."""
    design = on_bench(design, piece.bench)
    limit = design.stock.limit(shop.material(design.stock.material))
    found = _check_piece(Bench(piece, limit, cut_width(design, shop), design.unit, _is_carried(design, piece)))
    source = raised_from(design, piece)
    return tuple(_where_drawn(finding, piece, source) for finding in found) if source else found


def _is_carried(design: Design, piece: Piece) -> bool:
    """Whether its outer edges are only cut through what lies uppermost, as those of a foil on its backing."""
    carrying = {one.id for one in design.ticket.listed if one.does.parts and not one.does.through}
    resolved = resolve(piece)
    if not carrying or resolved.trouble:
        return False
    sort = sort_marks(piece, resolved, design.ticket.drilled)
    takers = {taker for taker, depth in zip(sort.edges, sort.depth.tolist(), strict=True) if depth % 2 == 0}
    return bool(takers) and takers <= carrying


def _where_drawn(finding: Finding, piece: Piece, source: Piece) -> Finding:
    """The finding of a piece that raises a part of another, mended where that is drawn."""
    ids = {part.id: piece.raises for part in piece.parts} | {piece.id: source.id}

    def there(edit: Edit) -> Edit:
        names: dict[str, object] = {}
        for name in ("piece", "of"):
            if hasattr(edit, name):
                names[name] = " ".join(ids.get(word, word) for word in getattr(edit, name).split())
        if hasattr(edit, "parts"):
            names["parts"] = tuple(ids.get(one, one) for one in edit.parts)
        return edit.model_copy(update=names)

    return replace(finding, fixes=tuple(replace(fix, edit=there(fix.edit)) for fix in finding.fixes))


@remembered
def _check_piece(bench: Bench) -> tuple[Finding, ...]:
    # What cannot be worked out cannot be looked at either.
    checks = (piece_can_be_worked_out,) if resolve(bench.piece).trouble else PIECE_CHECKS
    found = [finding for run in checks for finding in run(bench)]
    found = [replace(finding, fixes=proved(bench, found, checks, finding)) for finding in found]
    return tuple(sorted(found, key=lambda finding: finding.level != "stop"))


def pieces_are_sound(job: Job) -> Iterator[Finding]:
    """The findings of every piece, shown on its first instance, and marked on all."""
    first = {instance.piece.id: instance for instance in reversed(job.layout.instances)}
    tied = tied_pieces(job.design)
    for piece in cut_here(job.design):
        if piece.id not in tied:
            for finding in check_piece(job.design, piece, job.shop):
                yield on_sheet(finding, first.get(piece.id))


def on_sheet(finding: Finding, laid: Laid | None) -> Finding:
    """The finding of a piece where an instance of it lies; without a place where there is none."""
    if laid is None:
        return replace(finding, place=None)
    spot = laid.on_sheet(finding.spot)
    if finding.place is None:
        return replace(finding, place=laid.bounds, spot=spot)
    a, b, c, d, e, f = laid.matrix
    turn = np.array([[a, b], [c, d]])
    corners = shapely.transform(shapely.box(*finding.place), lambda points: points @ turn + (e, f))
    return replace(finding, place=corners.bounds, spot=spot)
