"""Commands about what others drew: bring it in, clean it up, trace it."""

import argparse
import json
from pathlib import Path
from typing import Any, get_args

from foliant.core.bringing import LEFT, WORDS, Answers, groups_of, taken_in
from foliant.core.bringing.report import report, size_of, title_of, unread_of
from foliant.core.bringing.taking import Into
from foliant.core.cleaning import FAULTS, TOLD, USUAL
from foliant.core.cli.files import content_of, write_to
from foliant.core.design import Design, apply, read_edit
from foliant.core.design.edits.cleaning import can_be_cleaned, counted, mended
from foliant.core.design.model import ROLES
from foliant.core.drawings.intake import take_drawing
from foliant.core.errors import Refused
from foliant.core.formats.design_file import read_design_file, write_design
from foliant.core.quantities import sized
from foliant.core.seeing import add_finder, among
from foliant.core.seeing.intake import take_picture
from foliant.core.seeing.tracing import WHATS


def add_bringing(commands: Any) -> None:
    """Add these commands to those of the parser."""
    bring = commands.add_parser("bring", help="bring an SVG, DXF or PDF drawing into a design, and say what it holds")
    bring.add_argument("file", help="the drawing")
    bring.add_argument("--to", help="the design file to write; else it is only said what the drawing holds")
    bring.add_argument("--onto", help="the design file that it is brought into; else a new one")
    bring.add_argument("--piece", default="", help="the id of the piece that it is put on; else the first")
    bring.add_argument(
        "--into",
        default="",
        choices=("", *get_args(Into)),
        help="what becomes of it; anew: what came from a file of this name before is exchanged for what is in it now",
    )
    bring.add_argument("--width", help="how wide all of it is to be, such as 120 or 4 in; else as the file says")
    bring.add_argument("--role", nargs="*", default=[], help="KEY=ROLE for a group, words, or KEY=left to leave it out")
    bring.add_argument("--told", nargs="*", default=[], help="KEY=area or KEY=line, how the lines of a group are taken")
    bring.add_argument("--json", action="store_true", help="print JSON")
    bring.set_defaults(run=_bring)
    clean = commands.add_parser("clean", help="say what there is to clean up in lines that were brought in, or mend it")
    clean.add_argument("design", help="a design file")
    clean.add_argument("--to", help="the design file to write with the faults mended; else they are only said")
    clean.add_argument("--only", nargs="*", default=[], help=f"only these: {', '.join(FAULTS)}")
    clean.add_argument("--json", action="store_true", help="print JSON")
    clean.set_defaults(run=_clean)
    trace = commands.add_parser("trace", help="trace a picture: write a design of its areas, outlines or middle lines")
    trace.add_argument("picture", help="a PNG, JPEG, WebP or GIF file")
    trace.add_argument("--to", required=True, help="the design file to write")
    trace.add_argument("--width", default="60", help="how wide the whole picture is, mm unless said")
    trace.add_argument("--what", default="areas", choices=tuple(WHATS), help="what of it is traced")
    trace.add_argument("--dark", type=float, help="from which darkness on, percent; else what parts it best")
    trace.add_argument("--tones", type=int, default=1, help="how many tones are told apart")
    trace.add_argument("--speck", type=float, default=0.6, help="nothing smaller is kept, mm")
    trace.add_argument("--smooth", type=float, default=0.05, help="how far curves may lie off, mm")
    trace.add_argument("--corner", type=float, default=40.0, help="what turns by more is a corner, degrees")
    trace.add_argument("--inverted", action="store_true", help="trace what is light")
    trace.set_defaults(run=_trace)


def _bring(options: argparse.Namespace) -> int:
    drawing = take_drawing(content_of(options.file))
    design = read_design_file(content_of(options.onto)) if options.onto else Design(name=Path(options.file).stem[:80])
    design = design if design.pieces else apply(design, read_edit({"do": "add-piece"}))
    piece = design.piece(options.piece) if options.piece else design.pieces[0]
    factor = 1.0
    if options.width:
        left, _, right, _ = drawing.bounds
        factor = _WIDTH.number(options.width, "mm") / max(right - left, 1e-9)
    roles, told = (_pairs(pairs) for pairs in (options.role, options.told))
    into: Into = options.into or ("parts" if options.piece or not piece.parts else "piece")
    answers = Answers(factor, roles, told, into, Path(options.file).stem)
    groups = groups_of(drawing.resized(factor), not piece.parts)
    if options.json:
        print(json.dumps(report(drawing.resized(factor), groups), indent=1, ensure_ascii=False))
    else:
        print(size_of(drawing.resized(factor), "mm"))
        for group in groups:
            print(f"{group.key:20}{title_of(group)}: {ROLES.get(roles.get(group.key, group.role), LEFT)}")
        for text in drawing.texts:
            print(f"{WORDS:20}“{text.text}” in {text.family or 'no font that is named'}")
        if left_out := unread_of(drawing):
            print(left_out)
    edit = taken_in(drawing, answers, piece.id, not piece.parts)
    if options.to:
        write_to(Path(options.to), write_design(apply(design, edit)).encode())
    return 0


def _clean(options: argparse.Namespace) -> int:
    design = read_design_file(content_of(options.design))
    wanted, told = tuple(options.only or USUAL), list[tuple[str, str, str, int]]()
    for piece in design.pieces:
        for part in (one for one in piece.parts if can_be_cleaned(one) and not one.locked):
            _, counts = mended(part, wanted)
            meant = counted([part], () if options.only else tuple(set(TOLD) - set(USUAL)))
            told += [(piece.id, part.id, fault, count) for fault, count in [*counts.items(), *meant.items()]]
            if counts and options.to:
                edit = {"do": "clean-parts", "piece": piece.id, "parts": [part.id], "faults": wanted}
                design = apply(design, read_edit(edit))
    if options.json:
        print(json.dumps([dict(zip(("piece", "part", "fault", "count"), one, strict=True)) for one in told], indent=1))
    for _, own, fault, count in [] if options.json else told:
        left = fault not in wanted
        print(f"{own:6}{FAULTS[fault].said(count)}{f', left as meant but for --only {fault}' if left else ''}")
    if not told and not options.json:
        print("Nothing to clean up.")
    if options.to:
        write_to(Path(options.to), write_design(design).encode())
    return 0


def _trace(options: argparse.Namespace) -> int:
    file = Path(options.picture)
    content = content_of(options.picture)
    taken = take_picture(content)
    add_finder(among({file.name: content}))
    width = _WIDTH.number(options.width, "mm")
    design = apply(Design(name=file.stem[:80]), read_edit({"do": "add-piece"}))
    size = {"whole_width": width, "whole_height": width * taken.height / taken.width}
    picture = {"picture": file.name, "name": file.stem[:40], **size}
    design = apply(design, read_edit({"do": "add-part", "piece": "p1", "kind": "picture", "values": picture}))
    asked = ("what", "dark", "tones", "speck", "smooth", "corner", "inverted")
    how = {name: getattr(options, name) for name in asked}
    parts = [part.id for part in design.pieces[0].parts]
    design = apply(design, read_edit({"do": "trace-pictures", "piece": "p1", "parts": parts, **how}))
    for part in design.pieces[0].parts:
        print(f"{part.shape.label()}: {part.shape.segments():,} lines and curves, {part.shape.summary('mm')} mm")
    write_to(Path(options.to), write_design(design).encode())
    return 0


_WIDTH = sized("The width")


def _pairs(texts: list[str]) -> dict[str, Any]:
    found = dict(text.partition("=")[::2] for text in texts)
    if not all(found.values()):
        raise Refused("Name a group and what becomes of it with = between, such as open-1a2b=guides.")
    return found
