"""The command line: check, export, estimate, price and outline a design file, or run a simulated machine."""

import argparse
import asyncio
import json
import sys
from dataclasses import asdict
from pathlib import Path
from typing import Any

from foliant.core.checks import check
from foliant.core.cli.braille import add_braille
from foliant.core.cli.bringing import add_bringing
from foliant.core.cli.files import content_of, write_to
from foliant.core.cli.looking import add_looking
from foliant.core.design import Design, Stock, resolve
from foliant.core.design.benches import every_bench
from foliant.core.design.steps import next_steps
from foliant.core.equipment import SHIPPED, Shop
from foliant.core.errors import Refused
from foliant.core.formats import WRITERS, every_sheet, write_gcode
from foliant.core.formats.bundle import BEGINS, read_bundle
from foliant.core.formats.design_file import read_design_file, write_design
from foliant.core.formats.dialects import read_dialect
from foliant.core.formats.hpgl import write_hpgl
from foliant.core.formats.png import DOTS, write_png
from foliant.core.formats.schema import design_schema, shop_schema
from foliant.core.formats.shop_file import read_shop_file, write_shop
from foliant.core.formats.tables import with_rows
from foliant.core.layout import MOST_SECONDS, Packing, all_sheets, packings
from foliant.core.machine.drivers import simulator_of
from foliant.core.machine.script import lain
from foliant.core.machine.simulator import serve
from foliant.core.making import made_here
from foliant.core.paths import ARC
from foliant.core.paths.data import path_data
from foliant.core.pricing import QUANTITIES, Price, price_of_all, price_of_many, prices_by_order, prices_by_piece
from foliant.core.program.lie import read_lie
from foliant.core.proof import PROOFS, SIZES, Paper, write_paper, write_proof, write_ticket
from foliant.core.quantities import quantity_of, with_values
from foliant.core.seeing import add_finder, among, beside, find_picture
from foliant.core.starters import STARTERS, Starter, find_starter
from foliant.core.ticket import Job, plan, plan_all
from foliant.core.ticket.cards import Axis, field_card, kerf_gauge, usual_axis
from foliant.core.ticket.fills import compared
from foliant.core.ticket.marks import marks_sheet
from foliant.core.ticket.only import only
from foliant.core.units import format_duration, format_length
from foliant.core.works import find_work

_USUAL_FIELDS = 5


def main(arguments: list[str] | None = None) -> int:
    """Run one command. Exit code 0: done; 1: `check` found something that stops the job; 2: bad input."""
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options))
    except Refused as refusal:
        print(f"foliant: {refusal}", file=sys.stderr)
        return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser("foliant", description="Check, export and measure a Foliant design file.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    for name, run, about in (
        ("check", _check, "list what would spoil the job"),
        ("export", _export, "write the sheet as SVG, G-code or a design file"),
        ("estimate", _estimate, "say how long each operation takes"),
        ("fills", _fills, "compare every way to fill what is engraved, with its time"),
        ("price", _price, "say what the sheet and each piece cost"),
        ("pack", _pack, "lay the pieces close together on the sheet, and write the design"),
        ("program", _program, "print every move, with its operation and instance"),
        ("ticket", _ticket, "write the ticket of a sheet on one page, as PDF"),
        ("proof", _proof, "write a page of all rows with their pictures, as PDF or PNG"),
        ("paper", _paper, "write a sheet or a piece in true size over pages, as PDF"),
        ("outline", _outline, "print each piece's outline as SVG path data"),
        ("steps", _steps, "say what is likely to be done next, with the edits that do it"),
    ):
        command = commands.add_parser(name, help=about)
        command.add_argument("design", help="a design file, one with its pictures (.zip), or - for standard input")
        command.add_argument("--shop", help="a shop file: materials, machines, recipes; else the one that ships")
        if name in ("check", "export", "estimate", "fills", "program", "paper", "ticket"):
            every = "; else all are checked" if name == "check" else "; else the first"
            command.add_argument("--sheet", type=int, help=f"which sheet of those it takes, from 1{every}")
        command.add_argument("--rows", help="a CSV or XLSX file of rows for the roster, in place of the design's own")
        command.set_defaults(run=run)
        if name == "export":
            command.add_argument(
                "--to", required=True, help=f"the file to write: {', '.join('.' + w for w in WRITERS)}"
            )
            command.add_argument("--only", default="", help="only some of it: operation ID, piece ID, or cuts")
            command.add_argument("--operation", default="", help="the id of an operation that is written alone")
            command.add_argument("--piece", default="", help="the id of a piece that is written alone")
            command.add_argument(
                "--dialect",
                help="of G-code: some of arcs, lines, follows, steady, mm, inch, s=255; of HPGL: lines, whole",
            )
            command.add_argument("--lies", default="0,0", help="of those two: where the sheet lies, as x,y or x,y,turn")
            command.add_argument("--dots", type=float, default=DOTS, help="of PNG: dots to the inch")
            command.add_argument("--each", help="write every sheet in this format, into one .zip")
        elif name == "pack":
            command.add_argument("--to", help="the design file to write; else nothing is")
            command.add_argument("--seconds", type=float, default=3.0, help="how long to look for better ways")
            command.add_argument("--json", action="store_true", help="print JSON")
        elif name == "paper":
            command.add_argument("--to", required=True, help="the PDF file to write")
            command.add_argument("--piece", default="", help="the id of the piece to print; else the sheet is")
            command.add_argument("--size", default="a4", help=f"{', '.join(SIZES)}; or as 200x300, in mm")
            command.add_argument("--overlap", default="10", help="by how much pages overlap, mm unless said")
            command.add_argument("--mirrored", action="store_true", help="as seen from behind")
            command.add_argument("--lines", action="store_true", help="only its lines")
        elif name == "ticket":
            command.add_argument("--to", required=True, help="the PDF file to write")
        elif name == "fills":
            command.add_argument("--operation", default="engrave", help="the id of the operation")
            command.add_argument("--json", action="store_true", help="print JSON")
        elif name == "price":
            command.add_argument("--by", default="", help="a column of the roster that tells orders apart; or row")
            command.add_argument("--json", action="store_true", help="print JSON")
        elif name == "proof":
            command.add_argument("--prices", action="store_true", help="with what each costs")
            command.add_argument("--to", required=True, help=f"the file to write: {', '.join('.' + w for w in PROOFS)}")
            command.add_argument("--true-size", action="store_true", help="as large as it is made")
        else:
            command.add_argument("--json", action="store_true", help="print JSON")
        if name == "steps":
            command.add_argument("--piece", help="the id of the piece; else the first")
            command.add_argument("--parts", default="", help="the ids of the chosen parts, with commas between")
    starters = commands.add_parser(
        "starters", help="list the ready pieces to begin with, or write one as a design file"
    )
    starters.add_argument("name", nargs="?", help="the starter to write")
    starters.add_argument("--to", help="the design file to write; else it is printed")
    starters.add_argument("--values", nargs="*", default=[], help="what it asks for, words first, in the order listed")
    starters.add_argument("--thickness", help="how thick the stock was measured to be, such as 2.9 or 1/8 in")
    starters.add_argument("--json", action="store_true", help="list as JSON")
    starters.set_defaults(run=_starters)
    add_braille(commands)
    add_bringing(commands)
    add_looking(commands)
    card = commands.add_parser(
        "testcard", help="write a card of test fields, a gauge for the width of the cut, or marks"
    )
    card.add_argument("--shop", help="the shop file: its materials, machines and recipes; else the one that ships")
    card.add_argument("--machine", default="bench-laser", help="the key of the machine")
    card.add_argument("--material", default="birch-ply", help="the key of the material")
    card.add_argument("--thickness", type=float, help="mm; else what the material is sold in first")
    card.add_argument("--sheet", default="300x200", help="the size of the sheet or scrap, mm")
    card.add_argument("--work", default="engrave", help="engrave, score or cut; gauge, for the width of the cut; marks")
    card.add_argument("--across", default="power", help="a setting, and its values if not the usual: power=20,30,40")
    card.add_argument("--down", default="speed", help="another, likewise")
    card.add_argument("--to", required=True, help="the design file to write")
    card.set_defaults(run=_testcard)
    schema = commands.add_parser("schema", help="print the JSON schema of the design file, or of the shop file")
    schema.add_argument("of", nargs="?", choices=("design", "shop"), default="design")
    schema.set_defaults(run=_schema)
    shop = commands.add_parser("shop", help="print a shop file, to be changed and given with --shop")
    shop.add_argument("--shop", help="the shop file to read; else the one that ships")
    shop.set_defaults(run=_shop)
    machine = commands.add_parser("machine", help="run a simulated machine")
    machine.add_argument("--shop", help="the shop file that the machine stands in; else the one that ships")
    machine.add_argument("--profile", default="bench-laser", help="the key of the machine in the shop")
    machine.add_argument("--port", type=int, default=7801)
    machine.add_argument("--panel-port", type=int, default=7802)
    machine.add_argument("--rate", type=float, default=1.0, help="simulated seconds in a real one")
    machine.set_defaults(run=_machine)
    return parser


def _read(options: argparse.Namespace) -> Design:
    content = sys.stdin.buffer.read() if options.design == "-" else content_of(options.design)
    if content.startswith(BEGINS):
        content, files = read_bundle(content)
        add_finder(among(files))
    else:
        add_finder(beside(Path(options.design).parent))
    design = read_design_file(content)
    for look in (part.shape.look for piece in design.pieces for part in piece.parts):
        if look:
            find_picture(look.picture)  # what is no picture is said before anything is worked out
    return with_rows(design, content_of(options.rows)) if options.rows else design


def _shop_of(options: argparse.Namespace) -> Shop:
    return read_shop_file(content_of(options.shop)) if options.shop else SHIPPED


def _job(options: argparse.Namespace) -> Job:
    design = _read(options)
    return plan(design, _shop_of(options), _sheet(design, options))


def _sheet(design: Design, options: argparse.Namespace) -> int:
    """The number of the sheet that is asked for; the first where none is."""
    sheets, number = len(all_sheets(design)), 1 if options.sheet is None else options.sheet
    if not 1 <= number <= sheets:
        raise Refused(f"There is no sheet {number}: the design takes {sheets}.")
    return int(number)


def _check(options: argparse.Namespace) -> int:
    jobs = plan_all(_read(options), _shop_of(options)) if options.sheet is None else (_job(options),)
    # What is said of a piece is said once, however many sheets it lies on.
    told = {(one.check, one.sentence): one for job in jobs for one in check(job)}
    findings = sorted(told.values(), key=lambda one: one.level != "stop")
    if options.json:
        rows = [
            {
                "check": f.check,
                "level": f.level,
                "title": f.title,
                "sentence": f.sentence,
                "piece": f.piece,
                "row": f.row,
                "place": f.place,
            }
            for f in findings
        ]
        print(json.dumps({"findings": rows}, indent=1, ensure_ascii=False))
    else:
        print("\n".join(f"{f.level}: {f.sentence}" for f in findings) or "Nothing to look at.")
    return int(any(finding.level == "stop" for finding in findings))


def _export(options: argparse.Namespace) -> int:
    target = Path(options.to)
    ending = target.suffix.lstrip(".").lower()
    if options.each:
        if ending != "zip" or options.each not in WRITERS:
            raise Refused(f"Every sheet is written into a .zip, in one of {', '.join(WRITERS)}.")
        write_to(target, every_sheet(_read(options), _shop_of(options), options.each))
        return 0
    writer = WRITERS.get({"hpgl": "plt"}.get(ending, ending))
    if writer is None:
        raise Refused(f"“{target.name}” should end in {', '.join('.' + ending for ending in WRITERS)}.")
    what = options.only or (options.operation and f"operation {options.operation}")
    job = only(_job(options), what or (options.piece and f"piece {options.piece}"))
    dialect = None if options.dialect is None else read_dialect(options.dialect)
    spoken = {"gcode": write_gcode, "plt": write_hpgl, "hpgl": write_hpgl}.get(ending)
    if spoken:
        content = spoken(lain(job, read_lie(options.lies)), dialect).encode()
    elif dialect:
        raise Refused("A dialect is of G-code or of HPGL.")
    else:
        content = write_png(job, options.dots) if ending == "png" else writer.write(job)
    write_to(target, content)
    return 0


def _starters(options: argparse.Namespace) -> int:
    if not options.name:
        rows = [_starter(starter) for starter in STARTERS]
        if options.json:
            print(json.dumps({"starters": rows}, indent=1, ensure_ascii=False))
        else:
            for row in rows:
                asks = f"; asks for {', '.join(row['asks'])}" if row["asks"] else ""
                print(f"{row['key']:20}{row['name']}, {row['size']}: {row['about']}{asks}")
        return 0
    thickness = {"measured": options.thickness} if options.thickness else {}
    content = write_design(find_starter(options.name).design(options.values, with_values(Stock(), thickness, "mm")))
    if options.to:
        write_to(Path(options.to), content.encode())
    else:
        print(content, end="")
    return 0


def _starter(starter: Starter) -> dict[str, Any]:
    """A starter as it is listed, with the names of what it asks for."""
    size = f"{format_length(starter.size[0], 'mm', with_unit=False)} × {format_length(starter.size[1], 'mm')}"
    asks = [address.rpartition(" ")[2].replace("_", " ") for address in starter.asks]
    return {"key": starter.key, "name": starter.name, "about": starter.about, "size": size, "asks": asks}


def _proof(options: argparse.Namespace) -> int:
    target = Path(options.to)
    ending = target.suffix.lstrip(".").lower()
    write_to(target, write_proof(_read(options), _shop_of(options), ending, options.true_size, options.prices))
    return 0


def _ticket(options: argparse.Namespace) -> int:
    write_to(Path(options.to), write_ticket(_job(options)))
    return 0


def _paper(options: argparse.Namespace) -> int:
    width, cross, height = options.size.partition("x")
    size = {"size": "own", "width": width, "height": height} if cross else {"size": options.size}
    look = {"mirrored": options.mirrored, "look": "lines" if options.lines else "made"}
    design = _read(options)
    paper = with_values(Paper(), {**size, "overlap": options.overlap}, "mm").model_copy(update=look)
    write_to(Path(options.to), write_paper(design, _shop_of(options), paper, options.piece, _sheet(design, options)))
    return 0


def _estimate(options: argparse.Namespace) -> int:
    job = _job(options)
    path = job.program
    lines = [(line, path.seconds_of(i)) for i, line in enumerate(job.lines)]
    if options.json:
        rows = [{"operation": line.id, "on": line.on, "seconds": round(seconds, 2)} for line, seconds in lines]
        print(
            json.dumps(
                {
                    "seconds": round(path.seconds, 2),
                    "travel": round(path.travel_seconds, 2),
                    "home": round(path.home_seconds, 2),
                    "operations": rows,
                },
                indent=1,
            )
        )
    else:
        for line, seconds in lines:
            print(f"{format_duration(seconds):>8}  {line.title}{'' if line.on else ' (off)'}")
        print(f"{format_duration(path.seconds):>8}  in all, of which {format_duration(path.travel_seconds)} travel")
    return 0


def _fills(options: argparse.Namespace) -> int:
    design = _read(options)
    ways = compared(design, _shop_of(options), options.operation, _sheet(design, options))
    if options.json:
        rows = [
            {"way": way.says, "seconds": round(way.seconds, 2), "total": round(way.total, 2), "fastest": way.fastest,
             "now": way.now, "settings": dict(way.values)}
            for way in ways
        ]  # fmt: skip
        print(json.dumps({"ways": rows}, indent=1, ensure_ascii=False))
    else:
        for way in ways:
            notes = ", the fastest" * way.fastest + ", as it is now" * way.now
            print(f"{format_duration(way.seconds):>8}  {way.says}{notes}")
    return 0


def _price(options: argparse.Namespace) -> int:
    jobs = plan_all(_read(options), _shop_of(options))
    found, currency = price_of_all(jobs), jobs[0].shop.rates.currency
    by_order = prices_by_order(jobs, options.by) if options.by else []
    if options.json:
        pieces = [{"piece": name, "count": one.pieces, **_amounts(one)} for name, one in prices_by_piece(jobs)]
        many = [{"count": count, **_amounts(price_of_many(jobs, count))} for count in QUANTITIES]
        orders = [{"order": name, "count": one.pieces, **_amounts(one)} for name, one in by_order]
        whole = {
            "currency": currency,
            "pieces": found.pieces,
            "sheets": len(jobs),
            "sheet": jobs[0].design.stock.price,
            **_amounts(found),
        }
        print(
            json.dumps(
                {**whole, "by_piece": pieces, "by_order": orders, "quantities": many}, indent=1, ensure_ascii=False
            )
        )
    else:
        lines = [*_amounts(found).items(), *((name, one.total) for name, one in by_order)]
        print("\n".join(f"{amount:>8.2f} {currency}  {name}" for name, amount in lines))
    return 0


def _amounts(found: Price) -> dict[str, float]:
    return {name: round(getattr(found, name), 4) for name in ("material", "machine", "maker", "total", "each")}


def _pack(options: argparse.Namespace) -> int:
    if not 0 < options.seconds <= MOST_SECONDS:
        raise Refused(f"--seconds is more than 0 and at most {MOST_SECONDS}.")
    design = _read(options)
    benches = [there for there in every_bench(design) if made_here(there)] or [design]
    found = {}
    for there in benches:
        *_, best = packings(there, options.seconds / len(benches))
        found[there.bench] = best
        design = best.edit.done(design)
    if options.to:
        write_to(Path(options.to), write_design(design).encode())
    told = [{"material": there.stock.material, **_packed(found[there.bench])} for there in benches]
    if options.json and len(told) > 1:
        print(json.dumps({"benches": told}, indent=1))
    elif options.json:
        print(json.dumps({key: value for key, value in told[0].items() if key != "material"}, indent=1))
    else:
        for there in benches:
            of = f"{there.stock.material}: " if len(benches) > 1 else ""
            print(f"{of}{_packed_says(found[there.bench])}")
    return 0


def _packed(best: Packing) -> dict[str, Any]:
    lies = {"sheets": best.sheets, "placed": best.placed, "left_over": best.left_over}
    return {**lies, "density": round(best.density, 4), "reach": round(best.reach, 3)}


def _packed_says(best: Packing) -> str:
    left = f", {best.left_over} without room" if best.left_over else ""
    sheets = f"{best.sheets} sheet{'' if best.sheets == 1 else 's'}"
    dense = f"{best.density:.1%} of the strip used"
    return f"{sheets}, {best.placed} placed{left}; {dense}, the last {best.reach:.1f} mm long"


def _program(options: argparse.Namespace) -> int:
    job = _job(options)
    path = job.program.toolpath()
    columns = (path.working, path.kinds == ARC, path.points[:, 3].round(4), path.power, path.speed, path.dwell)
    rows = zip(*(column.tolist() for column in (*columns, path.operation, path.instance)), strict=True)
    for working, bent, (x, y), power, speed, dwell, operation, instance in rows:
        does = "travel" if not working else "arc" if bent else "line"
        row = {
            "move": does,
            "x": x,
            "y": y,
            "power": power,
            "speed": speed,
            "dwell": dwell,
            "operation": job.lines[operation].id,
            "instance": job.layout.instances[instance].label,
        }
        if options.json:
            print(json.dumps(row, ensure_ascii=False))
        else:
            told = f"{does:<6} {x:>9.3f} {y:>9.3f} {power:>6g} % {speed:>6g} mm/s"
            print(f"{told}  {row['operation']:<8} {row['instance']}")
    return 0


def _outline(options: argparse.Namespace) -> int:
    rows = []
    for piece in _read(options).pieces:
        outline = resolve(piece).outline
        rows.append(
            {
                "piece": piece.name,
                "d": path_data(outline.path),
                "area": round(outline.path.area, 4),
                "bodies": len(outline.bodies),
            }
        )
    if options.json:
        print(json.dumps(rows, indent=1, ensure_ascii=False))
    else:
        for row in rows:
            print(f"{row['piece']}: {row['area']} mm², bodies: {row['bodies']}\n{row['d']}")
    return 0


def _steps(options: argparse.Namespace) -> int:
    design = _read(options)
    if not design.pieces:
        raise Refused("The design has no piece yet.")
    piece = design.piece(options.piece) if options.piece else design.pieces[0]
    steps = next_steps(piece, [part for part in options.parts.split(",") if part])
    if options.json:
        print(json.dumps([asdict(step) for step in steps], indent=1, ensure_ascii=False))
    else:
        print("\n".join(step.says for step in steps))
    return 0


def _testcard(options: argparse.Namespace) -> int:
    shop = _shop_of(options)
    material = shop.material(options.material)
    size = dict(zip(("width", "height"), options.sheet.split("x"), strict=False))
    thick = {"thickness": options.thickness or material.thicknesses[0]}
    stock = with_values(Stock(material=material.key), {**size, **thick}, "mm")
    if options.work == "marks":
        design = marks_sheet(shop, options.machine)
    elif options.work == "gauge":
        design = kerf_gauge(shop, options.machine, stock)
    else:
        asked = (shop, options.machine, stock.material, stock.thickness, options.work)
        across, down = (_axis(text, asked) for text in (options.across, options.down))
        design = field_card(shop, options.machine, stock, options.work, across, down)
    write_to(Path(options.to), write_design(design).encode())
    return 0


def _axis(text: str, asked: tuple[Shop, str, str, float, str]) -> Axis:
    field, typed, values = text.partition("=")
    if not typed:
        return usual_axis(*asked, field, _USUAL_FIELDS)
    quantity = quantity_of(find_work(asked[-1]).settings, field)
    return Axis(field, tuple(quantity.number(value, "mm") for value in values.split(",")))


def _schema(options: argparse.Namespace) -> int:
    schema = shop_schema() if options.of == "shop" else design_schema()
    print(json.dumps(schema, indent=1, ensure_ascii=False))
    return 0


def _shop(options: argparse.Namespace) -> int:
    print(write_shop(_shop_of(options)), end="")
    return 0


def _machine(options: argparse.Namespace) -> int:
    shop = _shop_of(options)
    if not shop.has_machine(options.profile):
        keys = ", ".join(machine.key for machine in shop.machines)
        raise Refused(f"There is no machine “{options.profile}” in the shop; its machines are {keys}.")
    profile = shop.machine(options.profile)
    print(f"{profile.name} (simulated) listens on port {options.port}, its panel on {options.panel_port}.", flush=True)
    try:
        asyncio.run(serve(simulator_of(profile, options.rate), options.port, options.panel_port))
    except KeyboardInterrupt:
        pass
    except OSError as error:
        raise Refused(f"Port {options.port} or {options.panel_port} cannot be used: {error.strerror}.") from None
    return 0
