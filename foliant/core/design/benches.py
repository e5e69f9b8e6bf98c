"""Benches: a project that is cut from several materials stands on one of its benches at a time.

Everything that lays out, plans, checks or changes a sheet is given the design as it stands on that sheet's bench, so it
knows of one stock, one sheet and one ticket only. The pieces are always all there, as some are lapped with others.
"""

from collections import Counter

from foliant.core.design.model import Bench, Design, Piece

_AFTER_ALL = 10**9  # what is put on it gets ids that nothing on it has


def on_bench(design: Design, bench: str = "") -> Design:
    """The design standing on another of its benches; on the same one where there is none of that id."""
    found = next((one for one in design.benches if one.id == bench), None)
    if found is None or bench == design.bench:
        return design
    here = Bench(id=design.bench, stock=design.stock, sheet=design.sheet, ticket=design.ticket)
    others = tuple(here if one is found else one for one in design.benches)
    to = {"stock": found.stock, "sheet": found.sheet, "ticket": found.ticket, "bench": found.id}
    return design.model_copy(update={**to, "benches": others})


def every_bench(design: Design) -> tuple[Design, ...]:
    """The design on each of its benches: the first one, and the others as they were added."""
    first = on_bench(design)
    return first, *(on_bench(first, one.id) for one in first.benches)


def cut_here(design: Design) -> tuple[Piece, ...]:
    """The pieces that are cut on the bench on which the design stands."""
    return tuple(piece for piece in design.pieces if piece.bench == design.bench)


def alone(piece: Piece) -> Design:
    """A design of nothing but one piece, to try something on."""
    return Design(pieces=(piece.model_copy(update={"bench": ""}) if piece.bench else piece,), serial=_AFTER_ALL)


def thicknesses(design: Design) -> dict[str, float]:
    """How thick the stock of each bench is, mm."""
    return {design.bench: design.stock.actual, **{one.id: one.stock.actual for one in design.benches}}


def tidied(design: Design) -> Design:
    """The design on its first bench, without those on which nothing is cut any more."""
    design = on_bench(design)
    if not design.benches:
        return design
    cut = Counter(piece.bench for piece in design.pieces)
    kept = tuple(one for one in design.benches if cut[one.id])
    if not cut[""] and kept:
        return _moved_up(design, kept[0], kept[1:])
    return design if kept == design.benches else design.model_copy(update={"benches": kept})


def _moved_up(design: Design, new: Bench, others: tuple[Bench, ...]) -> Design:
    """The design with another bench as its first, on which nothing is cut any more."""
    pieces = tuple(
        piece.model_copy(update={"bench": ""}) if piece.bench == new.id else piece for piece in design.pieces
    )
    first = {"stock": new.stock, "sheet": new.sheet, "ticket": new.ticket}
    return design.model_copy(update={**first, "pieces": pieces, "benches": others})
