"""Clean-up: what is wrong with lines that others drew, each fault found, counted, shown and mended by itself.

`FAULTS` names them in the order in which they are mended. To add one: write its file with a function like
`doubles.find`, and name it here.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from foliant.core.cleaning import bits, crossings, doubles, gaps, nodes, overdrawn, ribbons, specks, strokes
from foliant.core.cleaning.found import Found, Paths
from foliant.core.errors import Refused


@dataclass(frozen=True)
class Fault:
    """A fault: what one and several are called, what mends it in a few words, and how it is found.

    One that is `instead` mends what another of that key does in another way, and only where it is asked for; one that
    `may_be_meant` is told, and mended only then, too. One that `fills` is none where the area between its sides is
    engraved.
    """

    one: str
    many: str
    mends: str
    find: Callable[[Paths], Found]
    instead: str = ""
    may_be_meant: bool = False
    fills: bool = False

    def said(self, count: int) -> str:
        """So many of them."""
        return f"{count:,} {self.one if count == 1 else self.many}"


_STROKES = ("stroke drawn along both its sides", "strokes drawn along both their sides")
_RIBBONS = ("thin outline round an open line", "thin outlines round open lines")

FAULTS: dict[str, Fault] = {
    "bits": Fault("bit of no length", "bits of no length", "Take out", bits.find),
    "specks": Fault("speck", "specks", "Take out", specks.find),
    "doubles": Fault("doubled line", "doubled lines", "Keep one of each", doubles.find),
    "strokes": Fault(*_STROKES, "Keep the outer line", strokes.find_outer, fills=True),
    "middles": Fault(*_STROKES, "Keep the middle line", strokes.find_middle, instead="strokes", fills=True),
    "ribbons": Fault(*_RIBBONS, "Keep the middle line", ribbons.find, may_be_meant=True, fills=True),
    "overdrawn": Fault("line drawn over another", "lines drawn over others", "Draw each once", overdrawn.find),
    "gaps": Fault("gap in an outline", "gaps in outlines", "Close", gaps.find),
    "crossings": Fault("outline that crosses itself", "outlines that cross themselves", "Untangle", crossings.find),
    "nodes": Fault("node too many", "nodes too many", "Draw with fewer", nodes.find),
}


TOLD = tuple(key for key, fault in FAULTS.items() if not fault.instead)
"""The faults that are told."""

USUAL = tuple(key for key in TOLD if not FAULTS[key].may_be_meant)
"""Those of them that are mended where nothing else is said."""


def found_in(paths: Paths, faults: Iterable[str] = USUAL) -> dict[str, Found]:
    """The faults of outlines that have any, by their keys; raises `Refused` for one that is none."""
    found = {}
    for key in faults:
        if key not in FAULTS:
            raise Refused(f"There is no fault “{key[:30]}”: say {', '.join(FAULTS)}.")
        one = FAULTS[key].find(paths)
        if one.count:
            found[key] = one
    return found


def cleaned(paths: Paths, faults: Iterable[str] = USUAL) -> tuple[Paths, dict[str, int]]:
    """The outlines with these faults mended, in the order of `FAULTS`, and how many of each there were."""
    wanted, counts = set(faults), {}
    for key in (one for one in FAULTS if one in wanted):
        found = FAULTS[key].find(paths)
        if found.count:
            paths, counts[key] = found.mended, found.count
    if unknown := wanted - set(FAULTS):
        raise Refused(f"There is no fault “{min(unknown)[:30]}”: say {', '.join(FAULTS)}.")
    return paths, counts


__all__ = ["FAULTS", "TOLD", "USUAL", "Found", "Paths", "cleaned", "found_in"]
