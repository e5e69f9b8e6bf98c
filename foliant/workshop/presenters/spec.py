"""Spec sentences: what is selected, said in words of which every value can be edited in place."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from foliant.core.checks.marks import MARKED
from foliant.core.design import Design, Part, Piece, Sheet, Stock
from foliant.core.design.benches import cut_here, every_bench
from foliant.core.design.binding import tied_pieces
from foliant.core.design.distances import gap_between
from foliant.core.design.edits.nodes import drawn, node_place
from foliant.core.design.edits.sheet import TakeJig, TakeStock
from foliant.core.design.hanging import hung
from foliant.core.design.holds import PIECE, Axis, Hold, anchor_choices
from foliant.core.design.model import ROLES
from foliant.core.design.nodes import At, node_at, tip_of
from foliant.core.design.placing import measured_point, part_bounds
from foliant.core.design.references import point_of, union
from foliant.core.design.repeats import Rows
from foliant.core.design.shapes import Combination, Drawn, Words
from foliant.core.design.shapes.lettered import AnyLettering, LetteringKey
from foliant.core.equipment import MachineProfile, ShelfSheet, Shop
from foliant.core.frozen import Frozen
from foliant.core.layout import Layout
from foliant.core.phrases import Bit as ShapeBit
from foliant.core.phrases import Measure, Size, Value
from foliant.core.quantities import QuantityKind, quantity_of
from foliant.core.units import Speeds, Unit, format_length
from foliant.core.works import Settings
from foliant.core.works.work import with_force

Bit = dict[str, Any]
Choices = Sequence[tuple[str, str]]
_CENTRES = {"middle": "middle", "visual": "visual centre", "capitals": "middle by capitals"}

_ROLE_SAYS = {
    "adds": "adds to",
    "cuts": "cuts away from",
    "engraves": "engraves",
    "scores": "scores",
    "guides": "guides on",
}


_PROPORTIONS: Choices = (("yes", "kept"), ("no", "free"))


def text(words: str, style: str = "") -> Bit:
    """Plain words; style is "name" for the green italic of names, "quiet" for asides."""
    return {"text": words, **({"style": style} if style else {})}


def value(of: str, model: Frozen, field: str, unit: Unit, choices: Choices = (), speeds: Speeds = "mm/s") -> Bit:
    """An editable value: what it belongs to, its field, how it reads, and its choices if it has any.

    choices  those of the shop, or of the design, where the quantity leaves them open
    """
    quantity = quantity_of(type(model), field)
    if choices:
        quantity = replace(quantity, choices=tuple(choices))
    found = getattr(model, field)
    shown = "…" if found in (None, "") else quantity.show(found, unit, speeds)
    return {
        "of": of,
        "field": field,
        "kind": quantity.kind,
        "label": quantity.label,
        "text": shown,
        "raw": "" if found is None else found if quantity.kind in ("words", "colour", "font", "choice") else shown,
        **({"choices": quantity.choices} if quantity.choices else {}),
    }


def _length(of: str, field: str, label: str, millimetres: float, unit: Unit) -> Bit:
    return _plain(of, field, "length", label, format_length(millimetres, unit))


def _plain(of: str, field: str, kind: QuantityKind, label: str, shown: str) -> Bit:
    return {"of": of, "field": field, "kind": kind, "label": label, "text": shown, "raw": shown}


def _choice(of: str, field: str, label: str, key: str, choices: Choices, said: str = "") -> Bit:
    shown = said or dict(choices).get(key, key)
    return {"of": of, "field": field, "kind": "choice", "label": label, "text": shown, "raw": key, "choices": choices}


def part_sentence(part: Part, piece: Piece, unit: Unit) -> list[Bit]:
    """A part: its shape, its role, where it lies or what it is held to, and how it is repeated."""
    of = f"part {part.id}"
    shape = [say(of, part.shape, bit, unit) for bit in part.shape.sentence()]
    if isinstance(part.shape, Combination | Drawn):
        shape += _extent(part, unit)
    if isinstance(part.shape, Combination) and part.shape.has_keeper:
        keeper = _choice(of, "keeper", "What is kept", part.shape.of[0], _keepers(part.shape))
        shape += [text(", keeping "), {**keeper, "style": "name"}]
    if isinstance(part.shape, Words):
        for name, setting in part.shape.settings:
            shape += [text("; "), *lettering_said(name, setting, part, piece, unit)]
    if found := part.shape.stand_in():
        shape.append(text(f" ({found.what} not here: {found.here} stands in)"))
    for key, treatment in part.treatments.each:
        shape += [text("; "), *(say(f"{key} {part.id}", treatment, bit, unit) for bit in treatment.sentence())]
    said = [_ROLE_SAYS[role] for role in part.roles]
    role = _choice(of, "role", "The role", _roles_key(part), _role_choices(part), " and ".join(said))
    if part.shape.proportioned:
        kept = _choice(of, "proportional", "Its proportions", "yes" if part.proportional else "no", _PROPORTIONS)
        shape += [text(", proportions "), kept]
    turned = [text(", turned "), value(of, part, "rotation", unit), *([text(", flipped")] if part.flipped else [])]
    return [
        *shape,
        text(", "),
        role,
        text(" "),
        text(piece.name, "name"),
        *([] if _follows(part) else [text("; "), *_place(part, piece, unit), *turned]),
        *_repeat(part, piece, unit),
        text("; locked." if part.locked else "; hidden, so it is not made." if part.hidden else "."),
    ]


def _extent(part: Part, unit: Unit) -> list[Bit]:
    """How wide and high a part is that has no size of its own, each to be typed."""
    left, top, right, bottom = part_bounds(part)
    of = f"parts {part.id}"
    sides = (("width", "The width", right - left), ("height", "The height", bottom - top))
    said = [_length(of, field, label, length, unit) for field, label, length in sides if length > 1e-6]
    return [text(", "), *([said[0], text(" × "), said[1]] if len(said) == 2 else said)]


def _roles_key(part: Part) -> str:
    return part.roles[0] if len(part.roles) == 1 else ""


def _role_choices(part: Part) -> Choices:
    """Every role alone; and, for what may play several, one more or one less: its key begins with a plus."""
    found: list[tuple[str, str]] = list(ROLES.items())
    if part.plays("adds", *MARKED):
        for role, title in ROLES.items():
            if role in ("adds", *MARKED) and part.roles != (role,):
                found.append((f"+{role}", f"no longer {title}" if role in part.roles else f"also {title}"))
    return found


def say(of: str, model: Frozen, bit: ShapeBit, unit: Unit, speeds: Speeds = "mm/s") -> Bit:
    """A word of a phrase: plain, a length that follows from others, or a value of its own or of something else."""
    if isinstance(bit, Measure):
        return text(format_length(bit.length, unit))
    if isinstance(bit, Value):
        found = value(bit.of or of, model, bit.field, unit, speeds=speeds)
        return {**found, "field": bit.field_there or bit.field, "text": bit.said or found["text"]}
    if isinstance(bit, Size):
        return _length(of, bit.field, bit.label, bit.length, unit)
    return text(bit)


def said(
    of: str, model: Frozen, bit: ShapeBit, unit: Unit, choices: Mapping[str, Choices], speeds: Speeds = "mm/s"
) -> Bit:
    """The same, with the choices of values whose choices stand elsewhere, by field."""
    field = getattr(bit, "field", "")
    return value(of, model, field, unit, choices[field]) if field in choices else say(of, model, bit, unit, speeds)


def settings_said(settings: Settings, machine: MachineProfile) -> list[ShapeBit]:
    """The settings of a work as they are said of a machine."""
    words = settings.sentence()
    return with_force(words) if machine.kind == "blade" else list(words)


def by_height(machine: MachineProfile) -> tuple[ShapeBit, ...]:
    """What settings say more on a machine whose head goes up and down."""
    if machine.kind == "turning":
        return ", ", Value("depth"), " deep"
    return (", focus ", Value("focus")) if machine.focuses else ()


def lettering_said(
    key: LetteringKey, setting: AnyLettering, part: Part, piece: Piece, unit: Unit, in_full: bool = False
) -> list[Bit]:
    """What is done with words, briefly or in full; the part that they follow is a choice."""
    bits: list[Bit] = []
    for bit in (*setting.sentence(), *(setting.more() if in_full else ())):
        if isinstance(bit, Value) and bit.field in ("to", "of"):
            bits.append(_followed(key, part, piece))
        else:
            bits.append(say(f"{key} {part.id}", setting, bit, unit))
    return bits


def _followed(key: LetteringKey, part: Part, piece: Piece) -> Bit:
    """The part whose edge words run along, or that they fill; of two bars only their names."""
    assert isinstance(part.shape, Words)
    if key == "fit" and part.shape.fit and len(part.shape.fit.of) == 2:
        return text(part.shape.names(), "name")
    to = part.shape.edge.to if key == "edge" and part.shape.edge else part.shape.fit.of[0] if part.shape.fit else ""
    bit = switch(part, piece, key, to, edge_choices(part, piece), "What they go along")
    return {**bit, "style": "name"}


def edge_choices(part: Part, piece: Piece) -> list[tuple[str, str]]:
    """The parts that words can go along or fill."""
    others = [other for other in piece.parts[:60] if other.id != part.id and not isinstance(other.shape, Words)]
    return [(other.id, other.shape.label()[:40]) for other in others if part.id not in other.made_of]


def switch(part: Part, piece: Piece, what: str, now: str, choices: Choices, label: str, said: str = "") -> Bit:
    """A choice that begins or ends something that is done with words."""
    edit = {"do": "set-letters", "piece": piece.id, "parts": [part.id], "what": what}
    return {**_choice(f"{what} {part.id}", "to", label, now, choices, said), "edit": edit}


def _keepers(shape: Combination) -> Choices:
    return [(source.id, source.label[:40]) for source in shape.sources]


def _follows(part: Part) -> bool:
    """Whether it lies where other parts put it, so that there is no place to say."""
    return part.shape.keeps_margin or (bool(part.made_of) and not part.shape.members)


def _place(part: Part, piece: Piece, unit: Unit) -> list[Bit]:
    """Where a part lies, or what it is held to: "held 5 mm inside the left edge and level with the middle of …"."""
    of = f"part {part.id}"
    if part.across and part.down:
        both = f"hold {part.id}"
        if part.across == part.down and part.across.gap == 0 and part.across.anchor in _CENTRES:
            centre = _CENTRES[part.across.anchor]
            by_capitals = part.shape.baseline is not None or part.across.anchor == "capitals"
            choices = [(key, f"the {says}") for key, says in _CENTRES.items() if key != "capitals" or by_capitals]
            anchor = _choice(both, "anchor", "The point it is held at", part.across.anchor, choices, centre)
            return [text("held at the "), anchor, text(" of "), target(both, "to", part.across.to, part, piece)]
        across, down = _hold(part.across, "across", part, unit), _hold(part.down, "down", part, unit)
        if part.across.to == part.down.to:
            to = target(both, "to", part.across.to, part, piece)
            return [text("held "), *across, text(" and "), *down, text(" of "), to]
        return [
            text("held "),
            *across,
            text(" of "),
            target(f"across {part.id}", "to", part.across.to, part, piece),
            text(" and "),
            *down,
            text(" of "),
            target(f"down {part.id}", "to", part.down.to, part, piece),
        ]
    x, y = measured_point(part, part.reference)
    place = {
        "across": [_length(of, "x", "The place across", x, unit), text(" across")],
        "down": [_length(of, "y", "The place down", y, unit), text(" down")],
    }
    its = [text("its "), value(of, part, "reference", unit), text(" ")]
    axis: Axis
    for axis, free in (("across", "down"), ("down", "across")):
        hold = part.hold(axis)
        if hold:
            to = target(f"{axis} {part.id}", "to", hold.to, part, piece)
            return [text("held "), *_hold(hold, axis, part, unit), text(" of "), to, text(", "), *its, *place[free]]
    return [*its, *place["across"], text(" and "), *place["down"]]


def _hold(hold: Hold, axis: Axis, part: Part, unit: Unit) -> list[Bit]:
    """A hold one way, without what it is held to: "5 mm inside the left edge"."""
    of = f"{axis} {part.id}"
    anchor = _choice(of, "anchor", "The line it is held at", hold.anchor, anchor_choices(axis), hold.says(axis))
    words = hold.sentence(axis)
    return [anchor if word == Value("anchor") else say(of, hold, word, unit) for word in words]


def target(of: str, field: str, to: str, part: Part, piece: Piece, none: str = "") -> Bit:
    """What a part is held to or repeated about: the piece or another part, as a choice."""
    others = [(other.id, other.shape.label()[:40]) for other in piece.parts[:60] if other.id != part.id]
    choices = [*([("", none)] if none else []), (PIECE, piece.name), *others]
    return {**_choice(of, field, "What it goes by", to, choices), "style": "name"}


def _repeat(part: Part, piece: Piece, unit: Unit) -> list[Bit]:
    repeat, of = part.repeat, f"repeat {part.id}"
    if repeat is None:
        return []
    bits = [text("; ")]
    for word in repeat.sentence():
        if word == Value("about") and not isinstance(repeat, Rows):
            bits.append(target(of, "about", repeat.about, part, piece, repeat.free))
        else:
            bits.append(say(of, repeat, word, unit))
    return bits


def selection_sentence(piece: Piece, parts: Sequence[Part], unit: Unit) -> list[Bit]:
    """Several parts: how large they are together, where, and how far apart two are."""
    left, top, right, bottom = box = union([part_bounds(part) for part in parts])
    middle = point_of(box, "middle")
    of = " ".join(["parts", *(part.id for part in parts)])
    bits = [
        text(f"{len(parts)} parts of "),
        text(piece.name, "name"),
        text(", together "),
        _length(of, "width", "The width together", right - left, unit),
        text(" × "),
        _length(of, "height", "The height together", bottom - top, unit),
        text("; their middle "),
        _length(of, "x", "The place across", middle[0], unit),
        text(" across and "),
        _length(of, "y", "The place down", middle[1], unit),
        text(" down"),
    ]
    if len(parts) == 2:
        gap = gap_between(parts[0], parts[1])
        if gap is not None:
            bits.append(text(f"; {format_length(gap, unit)} apart at their nearest" if gap > 1e-4 else "; they meet"))
    return [*bits, *_style_together(parts, of, unit), text(".")]


def _style_together(parts: Sequence[Part], of: str, unit: Unit) -> list[Bit]:
    """The font, size and tracking of several words, as one value each; those that differ show those of the first."""
    words = [part.shape for part in parts if isinstance(part.shape, Words)]
    if len(words) < len(parts):
        return []
    bits: list[Bit] = []
    for before, field in (("; in ", "font"), (", capitals ", "cap_height"), (", tracking ", "tracking")):
        several = len({getattr(shape, field) for shape in words}) > 1
        shown = value(of, words[0], field, unit)
        bits += [text(before), {**shown, "text": f"{shown['text']} and others"} if several else shown]
    return bits


_BARELY = 1e-3
"""A corner of which a rounding of 1 mm takes less, in mm, is none: the line turns there by less than 5 degrees."""


def node_sentence(part: Part, at: At, unit: Unit) -> list[Bit]:
    """One node of a drawn shape."""
    node = node_at(drawn(part).contours, at)
    of = f"node {part.id} {at[0]} {at[1]}"
    x, y = node_place(part, at)
    corner = tip_of(drawn(part).contours, at) > _BARELY
    kinds = (("corner", "a corner"), ("smooth", "smooth"), ("symmetric", "symmetric"))
    return [
        text("Node "),
        text(f"{at[1] + 1} of {part.shape.label()}", "name"),
        text(", "),
        _choice(of, "kind", "The node", node.kind, kinds),
        text("; it lies "),
        _length(of, "x", "The place across", x, unit),
        text(" across and "),
        _length(of, "y", "The place down", y, unit),
        text(" down"),
        *(
            [text("; rounded by "), {**_length(of, "radius", "The radius", 0.0, unit), "text": "nothing"}]
            if corner
            else []
        ),
        text("."),
    ]


def piece_sentence(piece: Piece, size: str, bodies: int, stuff: str, unit: Unit) -> list[Bit]:
    """A piece with nothing selected on it."""
    of = f"piece {piece.id}"
    name = value(of, piece, "name", unit)
    if not piece.parts:
        return [name, text(" is empty. Put on what it is cut from: a rectangle, a circle or a ring.")]
    if not bodies:
        return [name, text(" has no material yet: put on a rectangle, a circle or a ring that adds it.")]
    joined = "one body" if bodies == 1 else f"{bodies} bodies, which fall apart,"
    return [
        name,
        text(f", {size}, {joined} of "),
        cut_from(piece, stuff),
        text("; "),
        value(of, piece, "copies", unit),
        text(" wanted."),
        *_hung(piece, unit),
    ]


def _hung(piece: Piece, unit: Unit) -> list[Bit]:
    """How high it is hung, where it has Braille."""
    found = hung(piece)
    if found is None:
        return []
    least, most = (format_length(round(height), unit, with_unit=unit != "mm") for height in found)
    return [
        text(f" Hang its lower edge {least} to {most}{' mm' if unit == 'mm' else ''} above the floor (US 703.4.1).")
    ]


def cut_from(piece: Piece, stuff: str) -> Bit:
    """What a piece is cut from, as a choice of what there is; the page holds that once for all pieces, as edits."""
    bit = _choice(f"piece {piece.id}", "bench", "What it is cut from", piece.bench, (), stuff)
    return {**bit, "listed": "cuts", "each": {"pieces": [piece.id]}}


def cuts(design: Design, shop: Shop) -> list[tuple[dict[str, Any], str]]:
    """What a piece can be cut from, as edits without the pieces: what the project has already, then the shelf."""
    benches = every_bench(design)
    here = [({"do": "cut-from", "onto": there.bench}, _stock_says(there.stock, shop, design.unit)) for there in benches]
    taken = {there.stock.source for there in benches}
    shelf = [sheet for sheet in shop.shelf if sheet.key not in taken and sheet.count]
    more = [({"do": "cut-from", "shelf": sheet.key}, _on_shelf(sheet, shop, design.unit)) for sheet in shelf]
    return [*here, *more]


def _stock_says(stock: Stock, shop: Shop, unit: Unit) -> str:
    return f"{format_length(stock.thickness, unit)} {shop.material(stock.material).name}"


def sheet_sentence(design: Design, shop: Shop, layout: Layout) -> list[Bit]:
    """The sheet: what lies on which stock, how far apart, and how much is used."""
    unit = design.unit
    pieces: list[Bit] = []
    shown = [piece for piece in cut_here(design) if piece.parts]
    tied, rows = tied_pieces(design), len(design.roster.rows)
    for index, piece in enumerate(shown):
        if index:
            pieces.append(text(" and " if index == len(shown) - 1 else ", "))
        pieces += [value(f"piece {piece.id}", piece, "copies", unit), text(" "), text(piece.name, "name")]
        if piece.id in tied:
            pieces.append(text(" for the only row" if rows == 1 else f" for each of {rows:,} rows"))
    stock = design.stock
    told = stock.model_copy(update={"measured": stock.actual})
    return [
        *(pieces or [text("Nothing yet")]),
        text(" on "),
        _shelf(stock, shop, unit, layout.count),
        text(" of "),
        *(said("stock", told, word, unit, {"material": material_choices(shop)}) for word in stock.sentence()),
        text(f"; {layout.used:.0%} used.".replace("%", "\u00a0%")),
    ]


def laying_sentence(sheet: Sheet, shop: Shop, unit: Unit) -> list[Bit]:
    """How pieces are laid and packed, or into which jig."""
    said_of_rows = [*(say("sheet", sheet, word, unit) for word in sheet.sentence()), text(".")]
    if not shop.jigs and not sheet.jig:
        return [text("Pieces lie "), *said_of_rows]
    edits = [TakeJig(do="take-jig"), *(TakeJig(do="take-jig", jig=jig) for jig in shop.jigs)]
    named = ["in rows", *(f"in {jig.name}" for jig in shop.jigs)]
    choices = list(zip((edit.model_dump_json() for edit in edits), named, strict=True))
    said = f"in {sheet.jig.name}" if sheet.jig else "in rows"
    where = _choice("sheet", "jig", "Where pieces lie", "", choices, said)
    if sheet.jig is None:
        return [text("Pieces lie "), where, text(", "), *said_of_rows]
    off = f", {len(sheet.off)} of them off" if sheet.off else ""
    return [text("Pieces lie "), where, text(f"; it has {len(sheet.jig.slots)} slots{off}: press one to switch it.")]


def _shelf(stock: Stock, shop: Shop, unit: Unit, count: int) -> Bit:
    """The sheets, as a choice of what lies on the shelf; each is an edit."""
    edits = [TakeStock.of(sheet).model_dump_json() for sheet in shop.shelf]
    choices = list(zip(edits, (_on_shelf(sheet, shop, unit) for sheet in shop.shelf), strict=True))
    known = any(sheet.key == stock.source for sheet in shop.shelf)
    one = "a begun sheet" if stock.used else "a sheet from the shelf" if known else "one sheet"
    said = one if count == 1 else f"a begun sheet and {count - 1} more" if stock.used else f"{count} sheets"
    if not choices:
        return text(said)
    return _choice("stock", "source", "The sheet", "", choices, said)


def _on_shelf(sheet: ShelfSheet, shop: Shop, unit: Unit) -> str:
    size = f"{format_length(sheet.width, unit, with_unit=False)} × {format_length(sheet.height, unit)}"
    there = f"begun, {sheet.left:.0%} left".replace("%", " %") if sheet.used else f"{sheet.count} there"
    return f"{format_length(sheet.thickness, unit)} {shop.material(sheet.material).name}, {size} ({there})"


def material_choices(shop: Shop) -> Choices:
    """The materials of a shop, as choices."""
    return [(material.key, material.name) for material in shop.materials]


def ticket_sentence(design: Design, shop: Shop) -> list[Bit]:
    """The machine and what lies on it."""
    stock, ticket, unit = design.stock, design.ticket, design.unit
    about = shop.machine(ticket.machine).about
    thick = quantity_of(Stock, "thickness").show(stock.thickness, unit)
    lies = f"{f', {about}' if about else ''} · {thick} {shop.material(stock.material).name}"
    machines = {"machine": [(machine.key, machine.name) for machine in shop.machines]}
    return [said("ticket", ticket, word, unit, machines) for word in ticket.sentence(lies)]
