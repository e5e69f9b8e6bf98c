"""The eye on the command line: finding the stock in a picture of the bed, and the cameras of simulated machines."""

import argparse
import json
from dataclasses import asdict
from typing import Any

from foliant.core.cli.files import content_of
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.eye.finding import find_stock
from foliant.core.eye.marks import learn
from foliant.core.eye.straightening import read_picture
from foliant.core.formats.shop_file import read_shop_file
from foliant.core.machine.watching import watch


def add_looking(commands: Any) -> None:
    """Add `look` and `camera`."""
    look = commands.add_parser("look", help="find the stock in a picture of the bed")
    look.add_argument("picture", help="a JPEG or PNG file, as the camera took it")
    look.add_argument("--shop", help="the shop file with the machine and its lens; else the one that ships")
    look.add_argument("--machine", default="bench-laser", help="the key of the machine")
    look.add_argument("--marks", help="a picture of the sheet of marks, to learn the lens from; else the shop knows it")
    look.add_argument("--thickness", type=float, default=3.0, help="of the stock, mm")
    look.add_argument("--size", help="how large the stock should be, such as 300x200, in mm")
    look.add_argument("--json", action="store_true", help="print JSON")
    look.set_defaults(run=_look)
    camera = commands.add_parser("camera", help="run the cameras over the simulated machines")
    camera.add_argument("--port", type=int, default=7810)
    camera.set_defaults(run=_camera)


def _look(options: argparse.Namespace) -> int:
    shop = read_shop_file(content_of(options.shop)) if options.shop else SHIPPED
    if not shop.has_machine(options.machine):
        raise Refused(f"There is no machine “{options.machine}” in this shop.")
    machine = shop.machine(options.machine)
    bed = machine.bed_width, machine.bed_height
    lens = learn(read_picture(content_of(options.marks)), *bed) if options.marks else machine.lens
    if lens is None:
        raise Refused(f"The lens over {machine.name} is not known: give a picture of its marks with --marks.")
    found = find_stock(read_picture(content_of(options.picture)), lens, bed, options.thickness, _size(options.size))
    if options.json:
        print(json.dumps({**asdict(found), "corners": found.corners.tolist(), "lens": lens.model_dump(mode="json")}))
    else:
        print(f"{found.width:.1f} × {found.height:.1f} mm, its near left corner at {found.x:.2f}, {found.y:.2f} mm, "
              f"turned {found.turn:.3f}°; {found.seen:.0%} of its least seen side is seen")  # fmt: skip
    return 0


def _size(text: str | None) -> tuple[float, float] | None:
    if not text:
        return None
    try:
        width, height = (float(part) for part in text.split("x"))
    except ValueError:
        raise Refused(f"“{text[:20]}” is no size: type it as 300x200, in mm.") from None
    return width, height


def _camera(options: argparse.Namespace) -> int:
    with watch(list(SHIPPED.machines), options.port) as server:
        server.serve_forever()
    return 0
