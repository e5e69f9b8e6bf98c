"""Jobs as makers vary them, each drawn from a seed alone: what is made, its size, words, list, stock and material."""

import csv
import io
from collections.abc import Callable
from random import Random

from foliant.core.design import Design, Part, Stock
from foliant.core.design.shapes import Words
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.formats.tables import read_table
from foliant.core.lettering import FONTS
from foliant.core.quantities import Quantity
from foliant.core.starters import STARTERS
from foliant.core.units import Unit
from tests.jobs.doing import Doing, chosen_tall, chosen_wide, own_size, tall, wide

NAMES = (
    "Bo", "Ada", "Orrin", "Ysolde", "Éloïse", "Zoë", "Maximiliana", "Petronella", "Géraldine-Marguerite", "Åsa",
    "Željko", "O’Hara", "Tavi & Lune", "MAUD", "fern", "Bartholomew", "Jörn", "Quill", "Ines", "Wystan",
)  # fmt: skip
PHRASES = (
    "open night", "Keep the gate shut", "Happy birthday", "Bay 7", "1924", "Mr & Mrs Hollis", "No. 12", "Herb garden",
    "Welcome to the observatory", "Please dim your torch after nine o’clock, thank you",
)  # fmt: skip
ROLES = ("guide", "warden", "cook", "first aid", "keeper of the keys", "visitor")
LATIN = [font.key for font in FONTS if font.kind not in ("other scripts", "your own")]
SHEETS = ((300, 200), (400, 290), (600, 400), (120, 290), (290, 120), (90, 60), (700, 500))
MOTIFS = ("moon", "star", "planet", "tree", "cat", "anchor", "flower", "key")
ONE_SIZE = {"circle": "diameter", "ring": "diameter", "heart": "width", "star": "diameter"}
PLATES = ("rectangle", "rectangle", "rectangle", "shield", "arch", "swallowtail", "wave", *ONE_SIZE)
PLAIN = ("hang-tag", "key-tag", "coaster", "door-sign", "magnet-board", "pennants", "bookmark")
"""Starters that are as large as their plate."""
INCH = 25.4


def drawn(seed: int) -> Doing:
    """The job of a seed."""
    random = Random(seed)
    doing = _begun(random) if random.random() < 0.6 else _by_hand(random)
    for step in random.sample(_STEPS, random.randint(0, 3)):
        if doing.design.pieces[0].parts:
            step(doing, random)
    return doing


def words(random: Random) -> str:
    """From one letter to sixty, in one line or several."""
    some = random.choice((random.choice(NAMES), random.choice(NAMES), random.choice(PHRASES), random.choice("AQWmé7&")))
    if random.random() < 0.15:
        some = some.upper()
    if random.random() < 0.2:
        some += f"\n{random.choice(NAMES)}"
    return some


def stock(random: Random) -> Stock:
    """Of any material that is sold here: of a usual size, a narrow strip, a small rest, or more than a bed holds."""
    material, (across, down) = random.choice(SHIPPED.materials), random.choice(SHEETS)
    thickness = random.choice(material.thicknesses)
    return Stock(material=material.key, thickness=thickness, width=float(across), height=float(down))


def length(random: Random, usual: float, unit: Unit, low: float, high: float) -> tuple[str, float]:
    """A length near a usual one, as it is typed, and in mm."""
    mm = usual * low * (high / low) ** random.random()
    if unit == "in":
        eighths = max(round(mm / INCH * 8), 1)
        whole, part = divmod(eighths, 8)
        return " ".join([*([str(whole)] if whole else []), *([f"{part}/8"] if part else [])]), eighths / 8 * INCH
    mm = max(round(mm, random.choice((0, 0, 1))), 0.5)
    return f"{mm:g}", mm


def _unit(random: Random) -> Unit:
    return "in" if random.random() < 0.25 else "mm"


def _begun(random: Random) -> Doing:
    """A starter with other values typed for what it asks."""
    starter, unit, sheet = random.choice(STARTERS), _unit(random), stock(random)
    factor = 3 ** random.uniform(-1, 1)
    answers = [
        _answer(random, starter.key, quantity, first, factor, unit) for quantity, first in starter.asked(sheet, unit)
    ]
    values = tuple(text for text, _ in answers)
    doing = Doing(Design(unit=unit, stock=sheet), [f"{starter.key}: {' | '.join(values)}"], starter=starter.key)
    try:
        doing.design = starter.design(values, sheet, unit)
    except Refused as refusal:
        doing.refuse(refusal)
        doing.design = starter.design((), sheet, unit)
        return doing
    for address, (_, mm) in zip(starter.asks, answers, strict=True):
        if mm is not None:
            doing.claim(address, mm, own_size(address))
        if mm is not None and address.startswith("part a2 ") and starter.key in PLAIN:
            doing.claim("the piece", mm, tall if address.endswith("height") else wide)
    return doing


def _answer(
    random: Random, starter: str, quantity: Quantity, first: str, factor: float, unit: Unit
) -> tuple[str, float | None]:
    """What is typed for a value that a starter asks for, and what that is in mm where it is the size of something."""
    if quantity.kind == "length":
        usual = quantity.read(first, unit) * factor * random.choice((1.0, 1.0, 0.6, 1.6))
        return length(random, float(usual), unit, 0.95, 1.05)
    if quantity.kind != "words":
        return first, None
    if starter == "pennants":
        return random.choice(("COMET", "OPEN", "MAUD", "Lune", "QUILLMOOR")), None
    return random.choice("AQMWé7") if starter == "stirrer" else words(random), None


def _by_hand(random: Random) -> Doing:
    """A plate, holes, a frame, a motif and words, in any order."""
    unit = _unit(random)
    doing = Doing(Design(unit=unit, stock=stock(random)), [f"by hand, in {unit}"])
    doing.edit({"do": "add-piece", "name": "Piece"})
    kind = random.choice(PLATES)
    text, mm = length(random, 80, unit, 0.4, 3)
    high, high_mm = length(random, mm * random.choice((0.4, 0.6, 1.0, 1.7)), unit, 0.9, 1.1)
    plate = doing.put(kind, {ONE_SIZE[kind]: text} if kind in ONE_SIZE else {"width": text, "height": high})
    if plate is None:
        return doing
    if kind != "star":
        doing.claim(f"{kind} wide", mm, wide)
    if kind not in ONE_SIZE:
        doing.claim(f"{kind} high", high_mm, tall)
    for step in random.sample((_hole, _frame, _motif, _words, _words), random.randint(1, 4)):
        step(doing, random, plate)
    return doing


def _hole(doing: Doing, random: Random, plate: str) -> None:
    text, mm = length(random, 5, doing.design.unit, 0.6, 1.6)
    if part := doing.put("hole", {"width": text, "height": text}):
        doing.claim("hole", mm, own_size(f"part {part} width"))


def _frame(doing: Doing, random: Random, plate: str) -> None:
    text, _ = length(random, 3, doing.design.unit, 0.6, 2)
    surround = {"do": "surround-parts", "piece": "p1", "parts": [plate], "role": "scores", "values": {"distance": text}}
    doing.edit(surround)


def _motif(doing: Doing, random: Random, plate: str) -> None:
    doing.put("motif", {"motif": random.choice(MOTIFS)}, onto=plate)


def _words(doing: Doing, random: Random, plate: str) -> None:
    if part := doing.put("words", {"text": words(random), "font": random.choice(LATIN)}, onto=plate):
        doing.plates[part] = plate


def _lettered(doing: Doing) -> list[Part]:
    return [part for part in doing.design.pieces[0].parts if isinstance(part.shape, Words)]


def _piece_sized(doing: Doing, random: Random) -> None:
    """The whole piece made wider or higher, whatever it is made of."""
    piece = doing.design.pieces[0]
    field, measured = random.choice((("width", wide), ("height", tall)))
    text, mm = length(random, max(measured(piece), 2), doing.design.unit, 0.7, 1.8)
    doing.size(f"the piece, {field}", {"do": "size-piece", "piece": piece.id, field: text}, mm, measured)


def _all_sized(doing: Doing, random: Random) -> None:
    """Everything chosen and sized as one, in proportion."""
    piece = doing.design.pieces[0]
    parts = [part.id for part in piece.parts]
    field, measured = random.choice((("width", chosen_wide), ("height", chosen_tall)))
    text, mm = length(random, max(measured(piece), 2), doing.design.unit, 0.7, 1.8)
    edit = {"do": "resize-parts", "piece": piece.id, "parts": parts, field: text, "proportional": True}
    doing.size(f"everything, {field}", edit, mm, measured)


def _another_font(doing: Doing, random: Random) -> None:
    if lettered := _lettered(doing):
        part = random.choice(lettered)
        doing.edit({"do": "change", "of": f"part {part.id}", "values": {"font": random.choice(LATIN)}})


def _capitals(doing: Doing, random: Random) -> None:
    """Words made taller or smaller, by the height of their capitals."""
    found = [part for part in _lettered(doing) if part.shape.fit is None and part.shape.at_most is None]  # type: ignore[union-attr]
    if found:
        part = random.choice(found)
        text, mm = length(random, part.shape.cap_height, doing.design.unit, 0.7, 1.3)  # type: ignore[union-attr]
        if doing.edit({"do": "change", "of": f"part {part.id}", "values": {"cap_height": text}}):
            doing.claim("capitals", mm, own_size(f"part {part.id} cap_height"))


def _listed(doing: Doing, random: Random) -> None:
    """A list of numbers, names and roles, its columns in any order, read from a file as it is."""
    asked = [part for part in _lettered(doing) if not part.ties]
    if not asked or doing.listed or doing.starter == "pennants":
        return
    rows = [(str(at), name, random.choice(ROLES)) for at, name in enumerate(random.sample(NAMES, 4), 1)]
    order = random.sample(range(3), 3)
    out = io.StringIO()
    csv.writer(out).writerows([[line[at] for at in order] for line in (("No", "Who", "How"), *rows)])
    table = read_table(out.getvalue().encode())
    words: list[str | None] = [None] * len(table.heading)
    words[table.words[0]] = asked[0].id
    heading, lines = list(table.heading), [list(line) for line in table.rows]
    if doing.edit({"do": "take-table", "heading": heading, "rows": lines, "tie": True, "words": words}):
        doing.listed = [name for _, name, _ in rows]


def _stocked(doing: Doing, random: Random) -> None:
    """Another stock than it was begun for."""
    sheet = stock(random)
    values = {"material": sheet.material, "width": f"{sheet.width:g}mm", "height": f"{sheet.height:g}mm"}
    doing.edit({"do": "change", "of": "stock", "values": values})


_STEPS: list[Callable[[Doing, Random], None]] = [
    _piece_sized, _all_sized, _another_font, _capitals, _listed, _stocked,
]  # fmt: skip
