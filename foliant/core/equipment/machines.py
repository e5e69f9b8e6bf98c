"""Machines: what a workshop cuts with."""

import ipaddress
import re
from typing import Annotated, Literal

from pydantic import Field

from foliant.core.equipment.names import Key, Name, Note
from foliant.core.errors import Refused
from foliant.core.eye.lens import Lens
from foliant.core.frozen import Frozen
from foliant.core.phrases import Bit, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.works import Work

KINDS = (("laser", "laser"), ("blade", "blade cutter"), ("turning", "turning cutter"))
ORIGINS = (
    ("near-left", "from near left"), ("near-right", "from near right"), ("far-left", "from far left"),
    ("far-right", "from far right"), ("middle", "from the middle"),
)  # fmt: skip
_ARCS = (("arcs", "go round in arcs"), ("lines", "go round in short lines"))
_BEAM = (("follows", "with power that follows the speed"), ("steady", "with steady power"))
_FORTIETHS = (("parts", "with parts of fortieths of a mm"), ("whole", "in whole fortieths of a mm"))
_UNITS = (("mm", "in mm"), ("inch", "in inches"))
LANGUAGES = (("lines", "lines of G-code"), ("hpgl", "HPGL"))
SIMULATED = "simulated"
USUAL = {
    "laser": {"kerf": 0.12, "rise": 0.0, "trail": 0.0, "overcut": 0.0},
    "blade": {"kerf": 0.05, "rise": 0.0, "trail": 0.25, "overcut": 0.4},
    "turning": {"kerf": 3.0, "rise": 10.0, "trail": 0.0, "overcut": 0.0, "top_speed": 50.0},
}
"""What a machine that becomes one of another kind starts from, until it is measured."""

_HOST = re.compile(r"[a-z0-9]([a-z0-9.-]{0,60}[a-z0-9])?")


_PATH = re.compile(r"[A-Za-z0-9._~/?&=%+-]{0,200}")


def _check_camera(text: str) -> str:
    address, slash, path = text.strip().removeprefix("http://").partition("/")
    if not _PATH.fullmatch(path):
        raise Refused(f"“{text[:40]}” is no address of a picture, such as 192.168.1.41:80/picture.jpg.")
    return _check_link(address) + slash + path


def _check_link(text: str) -> str:
    plain = text.strip().lower()
    if plain in ("", SIMULATED):
        return plain
    host, colon, port = plain.rpartition(":")
    if host.startswith("["):
        try:
            ipaddress.IPv6Address(host.strip("[]"))
        except ValueError:
            host = ""
    elif not _HOST.fullmatch(host):
        host = ""
    if not (host and colon and port.isascii() and port.isdigit() and 1 <= int(port) <= 65535):
        raise Refused(
            f"An address is a host and a port, such as 192.168.1.40:7801, or “{SIMULATED}”; “{text[:40]}” is neither."
        )
    return plain


class MachineProfile(Frozen):
    """A machine: bed (mm), speeds (mm/s), acceleration (mm/s²), and the width its spot or blade takes (mm).

    watts         its power, W; 0 where that says nothing of it
    hour          what an hour of it costs; None for what the workshop's rates say
    corner_speed  the speed (mm/s) it can take through a right-angled corner without stopping
    trail         how far the point of a drag blade trails behind the pivot it swivels on, mm
    overcut       how far a blade goes on past where a closed cut began, mm
    rise          how fast its head goes up, mm/s; of a laser both ways, 0 where it is fixed
    plunge        how fast a turning cutter goes down into the material, mm/s
    lift          how far over the material it travels, mm
    look_ahead    how many moves its controller knows of when it plans the next: it could stop at the last of them
    before        what is ticked off before it starts, with commas between
    origin        from where in the bed files for it are measured, into the bed
    arcs, beam, full, units, fortieths, head, tail   how such files are written: see `formats.dialects`
    language      what it takes over its link: lines of G-code (see `core.machine`), or HPGL
    link          where it listens, as host:port; "simulated" for the one that stands in for it here; "" for nowhere
    camera        where the camera over its bed gives pictures, as host:port/path, or likewise
    lens          the lens of that, once it was learnt
    """

    key: Key
    name: Name
    kind: Annotated[Literal["laser", "blade", "turning"], Quantity("choice", "The kind", choices=KINDS)] = "laser"
    about: Note = ""
    bed_width: Annotated[float, sized("The width of the bed", 20)] = 400
    bed_height: Annotated[float, sized("The height of the bed", 20)] = 400
    top_speed: Annotated[float, Quantity("speed", "The top speed", 1, 5000)] = 250
    travel_speed: Annotated[float, Quantity("speed", "The speed of travel", 1, 5000)] = 200
    acceleration: Annotated[float, Quantity("acceleration", "The acceleration", 10, 100_000)] = 1200
    corner_speed: Annotated[float, Quantity("speed", "The speed through a corner", 0.1, 500)] = 6
    kerf: Annotated[float, sized("The width of the cut", 0, 25)] = 0.12
    trail: Annotated[float, sized("How far the blade trails", 0, 5)] = 0.0
    overcut: Annotated[float, sized("The overcut", 0, 20)] = 0.0
    rise: Annotated[float, Quantity("speed", "How fast it goes up", 0, 500)] = 0.0
    plunge: Annotated[float, Quantity("speed", "How fast it goes down", 0.1, 500)] = 3.0
    lift: Annotated[float, sized("How far over the material it travels", 0.5, 100)] = 3.0
    look_ahead: Annotated[int, Quantity("count", "How many moves it looks ahead", 2, 10_000)] = 32
    before: Annotated[str, Field(max_length=300), Quantity("words", "What is ticked off before a start")] = ""
    origin: Annotated[
        Literal["near-left", "near-right", "far-left", "far-right", "middle"],
        Quantity("choice", "Where files have their origin", choices=ORIGINS),
    ] = "near-left"
    arcs: Annotated[Literal["arcs", "lines"], Quantity("choice", "How files go round", choices=_ARCS)] = "arcs"
    beam: Annotated[Literal["follows", "steady"], Quantity("choice", "The power in files", choices=_BEAM)] = "follows"
    full: Annotated[float, Quantity("number", "S at full power", 1, 1_000_000)] = 1000
    units: Annotated[Literal["mm", "inch"], Quantity("choice", "What files are in", choices=_UNITS)] = "mm"
    fortieths: Annotated[Literal["parts", "whole"], Quantity("choice", "Lengths in HPGL", choices=_FORTIETHS)] = "parts"
    head: Annotated[str, Field(max_length=300), Quantity("words", "The first lines of a file")] = ""
    tail: Annotated[str, Field(max_length=300), Quantity("words", "The last lines of a file")] = ""
    language: Annotated[Literal["lines", "hpgl"], Quantity("choice", "The language it speaks", choices=LANGUAGES)] = (
        "lines"
    )
    link: Annotated[str, Quantity("words", "The address", check_text=_check_link)] = SIMULATED
    camera: Annotated[str, Quantity("words", "The address of its camera", check_text=_check_camera)] = SIMULATED
    lens: Lens | None = None
    watts: Annotated[float, Quantity("number", "The power", 0, 100_000)] = 0.0
    hour: Annotated[float | None, Quantity("money", "An hour of it", 0, 100_000)] = None

    @property
    def checklist(self) -> tuple[str, ...]:
        """What is ticked off before it starts."""
        return tuple(one for one in (" ".join(part.split()) for part in self.before.split(",")) if one)

    @property
    def focuses(self) -> bool:
        """Whether it can move the focus of its beam up and down."""
        return self.kind == "laser" and self.rise > 0

    def does(self, work: Work) -> bool:
        """Whether it can do a work at all."""
        return not (work.burns and self.kind == "blade")

    @property
    def measures(self) -> bool:
        """Whether its head can go down and feel how thick the material is."""
        return self.focuses or self.kind == "turning"

    def sentence(self) -> tuple[Bit, ...]:
        """What the machine is, as a phrase, its values in place."""
        watts = () if self.kind == "blade" else (" of ", Value("watts"), " W")
        by_kind: dict[str, tuple[Bit, ...]] = {
            "laser": (", its head goes up and down at ", Value("rise")),
            "blade": ("; its blade trails ", Value("trail"), " and goes on for ", Value("overcut")),
            "turning": (
                "; it goes down at ", Value("plunge"), ", up at ", Value("rise"), " and travels ", Value("lift"),
                " over the material",
            ),
        }  # fmt: skip
        return (
            Value("name"), ", a ", Value("kind"), *watts, ", ", Value("about"), ", ", Value("hour"), " an hour; bed ",
            Value("bed_width"), " × ", Value("bed_height"), "; it works at up to ", Value("top_speed"), ", travels at ",
            Value("travel_speed"), ", gathers speed with ", Value("acceleration"), ", takes corners at ",
            Value("corner_speed"), ", and looks ", Value("look_ahead"), " moves ahead; its cut is ", Value("kerf"),
            " wide", *by_kind[self.kind],
        )  # fmt: skip

    def reached(self) -> tuple[Bit, ...]:
        """How it is reached and begun, likewise."""
        return (
            "It takes ", Value("language"), " at ", Value("link"), ", is looked at through ", Value("camera"),
            ", and before a start is ticked off: ", Value("before"),
        )  # fmt: skip

    def filed(self) -> tuple[Bit, ...]:
        """How files for it are written, likewise."""
        if self.language == "hpgl":
            return "Files for it are measured ", Value("origin"), ", ", Value("arcs"), ", ", Value("fortieths")
        return (
            "Files for it are measured ", Value("origin"), ", ", Value("arcs"), ", ", Value("beam"), " and S ",
            Value("full"), " at full power, ", Value("units"), ", begin with ", Value("head"), " and end with ",
            Value("tail"),
        )  # fmt: skip
