"""Whether a piece could be worked out, and in true curves."""

from collections.abc import Iterator

from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Finding
from foliant.core.design import resolve


def piece_can_be_worked_out(bench: Bench) -> Iterator[Finding]:
    """A piece in trouble is drawn from its parts as they are and is not made; all others are."""
    piece = bench.piece
    resolved = resolve(piece)
    if resolved.trouble:
        how = "is kept as it is" if piece.unread else "is drawn from its parts as they are"
        cure = "" if piece.unread else "change or delete one of its parts, "
        yield Finding(
            "piece_can_be_worked_out",
            "stop",
            f"{piece.name} cannot be worked out",
            f"{piece.name} {how} and is left off the sheet. {resolved.trouble} "
            f"Undo the last change, {cure}or delete the piece; nothing else is touched.",
            "shape",
            piece.id,
            resolved.bounds,
            resolved.outline.path,
        )


def curves_are_kept(bench: Bench) -> Iterator[Finding]:
    """Edges that nearly coincide may only be told in many short lines: true to 0.005 mm, but slower to cut."""
    piece = bench.piece
    resolved = resolve(piece)
    for region in (resolved.outline, resolved.engraved):
        if len(region.rough):
            yield Finding(
                "curves_are_kept",
                "look",
                f"{piece.name} has an edge in short lines",
                f"Edges of {piece.name} lie so nearly on each other that one is drawn in {len(region.rough)} short "
                "lines where it was curves; it is as exact, but runs less smoothly. Move one part a little.",
                "shape",
                piece.id,
                region.rough.bounds,
                region.rough,
            )
