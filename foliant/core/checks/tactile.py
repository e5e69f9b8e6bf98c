"""Whether the letters and pictograms of a sign with Braille are read by touch and from afar.

The numbers are those of the ADA Standards for Accessible Design (2010), 703.2, 703.5 and 703.6.
"""

from collections.abc import Iterator
from itertools import pairwise

from foliant.core.braille.sizes import BETWEEN, CAPITALS, CONTRAST, FIELD, RAISED, STEM
from foliant.core.checks.bench import Bench
from foliant.core.checks.finding import Bounds, Finding, Fix, say
from foliant.core.checks.touch import brailles
from foliant.core.design import Part, Piece, resolve
from foliant.core.design.benches import cut_here, on_bench
from foliant.core.design.edits.benches import CutFrom, from_shelf
from foliant.core.design.edits.change import Change
from foliant.core.design.edits.raising import RaiseParts, standing_out
from foliant.core.design.placing import part_bounds
from foliant.core.design.raising import raised_on
from foliant.core.design.shapes import Braille, Motif, Words
from foliant.core.design.shapes.rectangle import Rectangle
from foliant.core.equipment.materials import contrast
from foliant.core.lettering.library import font_for, font_name
from foliant.core.lettering.stems import stems_of
from foliant.core.paths.overlay import fine_shape
from foliant.core.ticket import Job

_PLAIN = "archivo"
"""A font without serifs whose strokes are no broader than is read."""

_ORNATE = ("joined script", "hand", "serif", "slab", "display", "stencil", "single-line")
"""Kinds of fonts that fingers do not follow."""

_FINE = 0.02  # mm
_MOST_TRACKING = 100


def _letters_told(piece: Piece) -> Iterator[tuple[Part, Words]]:
    """The words of a piece that Braille stands for."""
    told = {shape.of for _, shape in brailles(piece)}
    for part in piece.made:
        if part.id in told and isinstance(part.shape, Words):
            yield part, part.shape


def letters_are_read_by_touch(bench: Bench) -> Iterator[Finding]:
    """Letters that Braille stands for are capitals of a height and a kind that fingers follow."""
    for part, words in _letters_told(bench.piece):
        if not (words.capitals == "all" or words.text == words.text.upper()):
            how = "are not all capitals"
            yield _letters(bench, part, "is not all in capitals", how, "703.2.2", "All capitals", capitals="all")
        if words.fit is None and not CAPITALS[0] - 1e-6 <= words.cap <= CAPITALS[1] + 1e-6:
            height = min(max(words.cap, CAPITALS[0]), CAPITALS[1])
            how = f"are {say(words.cap, bench.unit)} high, and {CAPITALS[0]:g} to {CAPITALS[1]:g} mm are read"
            fix = f"Make them {say(height, bench.unit)} high"
            yield _letters(
                bench,
                part,
                "has capitals of another height",
                how,
                "703.2.5",
                fix,
                sized_by="capitals",
                cap_height=height,
            )
        yield from _of_their_font(bench, part, words)
        yield from _apart(bench, part, words)


def _of_their_font(bench: Bench, part: Part, words: Words) -> Iterator[Finding]:
    font, stems = font_for(words.font), stems_of(words.style)
    fix = f"Set it in {font_name(_PLAIN)}"
    if font.kind in _ORNATE or (stems and stems.serifs):
        what = f"are {font.kind} letters" if font.kind in _ORNATE else "end in serifs"
        how = f"{what}, and plain ones without serifs are read"
        yield _letters(bench, part, "is not in plain letters", how, "703.2.3", fix, font=_PLAIN)
    elif stems and stems.stem > STEM + 0.005:
        how = f"have strokes {stems.stem:.0%} as broad as they are high, and at most {STEM:.0%} is read"
        yield _letters(bench, part, "is too bold", how, "703.2.6", fix, font=_PLAIN, weight=0)


def _apart(bench: Bench, part: Part, words: Words) -> Iterator[Finding]:
    """How far letters stand from their neighbours."""
    gap = _least_gap(words)
    if gap is None or gap >= BETWEEN - 0.05 or words.fit or words.joined:
        return
    how = f"stand only {say(gap, bench.unit)} apart, and {BETWEEN:g} mm are needed"
    tracking = _parted(words)
    more = {} if tracking is None else {"tracking": tracking}
    fix = f"Track them {tracking:g} %" if tracking else ""
    yield _letters(bench, part, "is set too close", how, "703.2.7", fix, **more)


def _parted(words: Words) -> float | None:
    """The least tracking, in whole per cent, that sets letters apart enough; None where none does."""
    low, high = int(words.tracking), int(words.tracking) + _MOST_TRACKING
    if (_least_gap(words.model_copy(update={"tracking": float(high)})) or 0) < BETWEEN:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        gap = _least_gap(words.model_copy(update={"tracking": float(middle)})) or 0
        low, high = (low, middle) if gap >= BETWEEN else (middle, high)
    return float(high)


def _least_gap(words: Words) -> float | None:
    """How far the nearest two letters of a word are apart, mm; None where each stands alone."""
    letters = words.setting().letters
    shapes = [fine_shape(letter.path, _FINE) for letter in letters]
    gaps = [
        float(here.distance(there))
        for (one, two), (here, there) in zip(pairwise(letters), pairwise(shapes), strict=True)
        if (one.line, one.word) == (two.line, two.word)
    ]
    return min(gaps, default=None)


def _letters(bench: Bench, part: Part, short: str, how: str, source: str, fix: str, **values: object) -> Finding:
    label = part.shape.label()[:40]
    edit = Change(do="change", of=f"part {part.id}", values=values)
    return Finding(
        "letters_are_read_by_touch",
        "look",
        f"“{label[:30]}” {short}",
        f"The letters of “{label}”, which Braille tells on {bench.piece.name}, {how} (US {source}).",
        "shape",
        bench.piece.id,
        part_bounds(part),
        fixes=(Fix(fix, edit),) if values else (),
    )


def pictograms_have_their_field(bench: Bench) -> Iterator[Finding]:
    """A pictogram stands in a field of its own, so that it is found."""
    piece = bench.piece
    if not any(True for _ in brailles(piece)):
        return
    words = [part for part in piece.made if isinstance(part.shape, (Words, Braille))]
    for part in piece.made:
        if not isinstance(part.shape, Motif) or part.plays("adds", "cuts", "guides"):
            continue
        top, bottom = _field(part_bounds(part), resolve(piece).bounds, [part_bounds(one) for one in words])
        if bottom - top < FIELD - 0.05:
            label = part.shape.label()[:40]
            yield Finding(
                "pictograms_have_their_field",
                "look",
                f"The field of {label} is low",
                f"{label} on {piece.name} has a field {say(bottom - top, bench.unit)} high free of letters and "
                f"Braille, and a pictogram needs {FIELD:g} mm (US 703.6.1): make {piece.name} higher, or move what "
                "stands above or below it.",
                "shape",
                piece.id,
                part_bounds(part),
                fixes=tuple(_higher(piece, FIELD - (bottom - top))),
            )


def _higher(piece: Piece, by: float) -> Iterator[Fix]:
    """Making the plate higher, where it is of one shape that has a height."""
    plates = [part for part in piece.made if part.plays("adds")]
    if len(plates) == 1 and isinstance(plates[0].shape, Rectangle) and not plates[0].locked:
        height = round(plates[0].shape.height + by + 0.05, 1)
        yield Fix(
            f"Make the piece {height:g} mm high",
            Change(do="change", of=f"part {plates[0].id}", values={"height": height}),
        )


def _field(own: Bounds, piece: Bounds, others: list[Bounds]) -> tuple[float, float]:
    """From where to where the strip of a piece about a pictogram is free of others."""
    left, up, right, down = own
    within = [one for one in others if one[0] < right and one[2] > left]
    top = max([piece[1], *(one[3] for one in within if one[3] <= (up + down) / 2)])
    bottom = min([piece[3], *(one[1] for one in within if one[1] >= (up + down) / 2)])
    crossed = any(one[1] < down and one[3] > up for one in within)
    return (up, up) if crossed else (top, bottom)


def letters_stand_out(job: Job) -> Iterator[Finding]:
    """Letters that Braille tells are raised, by as much as fingers feel, and differ from their ground."""
    design = job.design
    for piece in cut_here(design):
        told = list(_letters_told(piece))
        raised = {other.raises: other for other in raised_on(design, piece)} if told else {}
        flat = [part for part, _ in told if part.id not in raised]
        if flat:
            edit = RaiseParts(do="raise-parts", piece=piece.id, parts=tuple(part.id for part in flat))
            names = ", ".join(f"“{part.shape.label()[:24]}”" for part in flat[:4])
            says = f"{names} on {piece.name}, which Braille tells, {'is' if len(flat) == 1 else 'are'} not raised"
            fixes = () if any(part.locked for part in flat) else (Fix("Cut it raised, from other material", edit),)
            why = f"letters are read by touch where they stand out {RAISED:g} mm (US 703.2.1)"
            yield _stands(piece, f"Letters of {piece.name} are not raised", f"{says}: {why}.", fixes)
        for part, _ in told:
            if part.id in raised:
                yield from _of_what_is_raised(job, piece, raised[part.id])


def _of_what_is_raised(job: Job, piece: Piece, other: Piece) -> Iterator[Finding]:
    """Whether it is thick enough, and of another lightness than its ground."""
    stock, ground = on_bench(job.design, other.bench).stock, job.design.stock
    fixes = tuple(_from_another(job, other))
    if stock.actual < RAISED - 1e-6:
        says = (
            f"{other.name} is cut from {say(stock.actual, job.design.unit)} material and stands out no more than that"
        )
        why = f"{RAISED:g} mm are needed (US 703.2.1): cut it from thicker material"
        yield _stands(piece, f"{other.name} stands out too little", f"{says}; {why}.", fixes)
    letters, face = job.shop.material(stock.material), job.shop.material(ground.material)
    differ = contrast(letters.face, face.face)
    if differ < CONTRAST - 0.005:
        says = f"{letters.name} on {face.name} differ by {differ:.0%} of the lighter one"
        why = f"letters are seen where they differ by {CONTRAST:.0%} (US 703.5.1, and A4.30.3 before it)"
        yield _stands(piece, f"{other.name} is hard to see", f"{says}; {why}: cut one of them from another.", fixes)


def _from_another(job: Job, other: Piece) -> Iterator[Fix]:
    best, now = standing_out(job.shop, job.design.stock.material), on_bench(job.design, other.bench).stock
    if best and (best.material, best.thickness) != (now.material, now.thickness):
        edit = CutFrom(do="cut-from", pieces=(other.id,), stock=from_shelf(best))
        name = job.shop.material(best.material).name
        yield Fix(f"Cut it from {say(best.thickness, job.design.unit)} {name}", edit)


def _stands(piece: Piece, title: str, says: str, fixes: tuple[Fix, ...] = ()) -> Finding:
    return Finding("letters_stand_out", "look", title, says, "shape", piece.id, fixes=fixes)
