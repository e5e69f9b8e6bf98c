"""Whether each part of a piece does what it is there for."""

from collections.abc import Iterator
from contextlib import suppress

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding, Fix
from foliant.core.design import Part, Piece, apply, part_paths, resolve
from foliant.core.design.benches import alone
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.parts import RemoveParts
from foliant.core.design.edits.treating import TreatParts
from foliant.core.design.following import kept_place_of, widest_margin
from foliant.core.design.idle import idle_parts
from foliant.core.design.placing import part_bounds
from foliant.core.design.shapes import Hole
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.units import format_length

_SAME = 0.01
"""Outlines that differ by less than so many mm² are the same."""


def words_can_be_set(bench: Bench) -> Iterator[Finding]:
    """Characters the font has no glyph for leave gaps."""
    for part in bench.piece.made:
        if missing := part.shape.missing:
            listed = ", ".join(f"“{character}”" for character in missing[:8])
            yield Finding(
                "words_can_be_set",
                "stop",
                f"A font lacks {listed}",
                f"The font of “{part.shape.label()[:40]}” on {bench.piece.name} has no {listed}, so a gap is left; "
                "choose another font or other words.",
                "shape",
                bench.piece.id,
                part_bounds(part),
            )


def holes_keep_their_margin(bench: Bench) -> Iterator[Finding]:
    """A hole that found its place once may have none any more, on a plate that has changed."""
    for part in bench.piece.made:
        hole = part.shape
        if not isinstance(hole, Hole) or not hole.keeps_margin or kept_place_of(part, bench.piece):
            continue
        wide, kept = widest_margin(hole, bench.piece, part.id), format_length(hole.margin, bench.unit)
        possible = f"; {format_length(wide, bench.unit)} is possible" if wide else ""
        keep = Change(do="change", of=f"part {part.id}", values={"margin": wide})
        yield Finding(
            "holes_keep_their_margin",
            "stop",
            f"{hole.label()}: no room for {kept} to every edge",
            f"{hole.label()} on {bench.piece.name} is to be {kept} from every edge, and there is no such place any more"
            f"{possible}: take a smaller margin or hole, or more material.",
            "shape",
            bench.piece.id,
            part_bounds(part),
            join(part_paths(part)),
            (Fix(f"Keep {format_length(wide, bench.unit)}", keep),) if wide else (),
        )


def what_parts_are_made_of_is_here(bench: Bench) -> Iterator[Finding]:
    """A font, a motif or a picture that is gone is replaced, which the maker must know before anything is cut."""
    for part in bench.piece.made:
        if found := part.shape.stand_in():
            keep = Fix(f"Keep {found.here}", Change(do="change", of=f"part {part.id}", values=found.values))
            drop = Fix("Drop it", RemoveParts(do="remove-parts", piece=bench.piece.id, parts=(part.id,)))
            yield Finding(
                "what_parts_are_made_of_is_here",
                "look" if found.alike else "stop",
                f"The {found.what} {found.gone} is not here",
                f"“{part.shape.label()[:40]}” on {bench.piece.name} is to be made with the {found.what} {found.gone}, "
                f"which is not here, so {found.here} stands in for it: {'keep that, or ' if found.values else ''}"
                f"choose another {found.what}.",
                "shape",
                bench.piece.id,
                part_bounds(part),
                fixes=(keep if found.values else drop,),
            )


def lines_are_closed(bench: Bench) -> Iterator[Finding]:
    """An open line adds nothing until it has a width: it can only be scored, engraved or cut as a slit."""
    piece = bench.piece
    for part in piece.made:
        closed = join(part_paths(part)).closed
        if part.plays("adds") and len(closed) and not closed.any():
            name = part.shape.label()[:40]
            widen = TreatParts(do="treat-parts", piece=piece.id, parts=(part.id,), treatment="widened")
            yield Finding(
                "lines_are_closed",
                "look",
                f"{name} adds no material",
                f"{name} on {piece.name} is an open line, so it adds no material: widen it, score or engrave it, or "
                "close it.",
                "shape",
                piece.id,
                part_bounds(part),
                fixes=(Fix("Widen it to 2 mm", widen),),
            )


def parts_do_something(bench: Bench) -> Iterator[Finding]:
    """A part that adds or cuts nothing was meant to do something."""
    piece = bench.piece
    idle = idle_parts(piece)
    for part in piece.made:
        says = idle.get(part.id)
        if says is None or not (join(part_paths(part)).closed.any() or says == "nothing is left of it"):
            continue  # what is an open line has been said already
        if part.shape.keeps_margin and not kept_place_of(part, piece):
            continue  # and that it finds no room, too
        name = part.shape.label()[:40]
        sentence = f"{name}: {says}" if says.startswith("nothing") else f"{name} {says}"
        why = {
            "adds nothing": "other parts add all of it already",
            "cuts nothing": "there is no material where it lies",
            "nothing is left of it": "its treatment, or what it is made from, leaves nothing",
        }.get(says, "")
        yield Finding(
            "parts_do_something",
            "look",
            sentence,
            f"{sentence} on {piece.name}, as {why}: move it, change it, or drop it.",
            "shape",
            piece.id,
            part_bounds(part),
            join(part_paths(part)),
            tuple(_dropped(piece, part)),
        )


def _dropped(piece: Piece, part: Part) -> Iterator[Fix]:
    """Dropping a part, where the outline stays what it is: what is held to it might move."""
    edit = RemoveParts(do="remove-parts", piece=piece.id, parts=(part.id,))
    with suppress(Refused):
        left = apply(alone(piece), edit).pieces[0]
        before, after = resolve(piece).outline.shape, resolve(left).outline.shape
        if before.symmetric_difference(after).area < _SAME:
            yield Fix("Drop it", edit)


def nothing_is_set_aside(bench: Bench) -> Iterator[Finding]:
    """Hidden parts are not made; the maker should know."""
    piece = bench.piece
    hidden = [part.shape.label()[:30] for part in piece.parts if part.hidden]
    if hidden:
        names = ", ".join(hidden[:4]) + (" and more" if len(hidden) > 4 else "")
        count = "A part is" if len(hidden) == 1 else f"{len(hidden)} parts are"
        yield Finding(
            "nothing_is_set_aside",
            "look",
            f"{count} hidden on {piece.name}",
            f"{names} on {piece.name}: what is hidden is not made. Show it, or delete it.",
            "shape",
            piece.id,
        )
