"""Reading DXF, releases 12 to 2018, as text or binary: arcs stay arcs, blocks are inserted, hatches are areas, and
broken lines are dashes.
"""

import io
import math
import re
from collections.abc import Iterable
from typing import Any, Literal

import numpy as np
from ezdxf import colors, recover
from ezdxf import entities as dxf
from ezdxf import path as curves
from ezdxf.document import Drawing as Document
from ezdxf.entities.boundary_paths import EdgePath, PolylinePath
from ezdxf.lldxf.const import DXFError, DXFStructureError
from ezdxf.lldxf.tagger import binary_tags_loader
from ezdxf.math import OCS, Vec3, bulge_center, bulge_radius

from foliant.core.drawings.drawing import BINARY_DXF, MM, Drawing, Item, Notes, Written
from foliant.core.errors import Refused
from foliant.core.paths import Path, PathPen, join
from foliant.core.paths.dashing import dashed
from foliant.core.taking_apart import tell

MOST_ENTITIES = 50_000
_LOADED = 0.5
"""The share of its time that a file takes until its entities are known."""

_MOST_INSERTED = 100_000
_DEEPEST = 20
_EM_TO_CAPITALS = 0.72
_DOT = 0.1
"""How long a dot is, as a share of the pattern that it is in."""

_ELLIPSE_PIECES = 8
_SPLINE_LEVEL = 6
_ENDING = re.compile(r"\.(shx|ttf|otf|ttc)$", re.IGNORECASE)
_ENTITY = re.compile(rb"^[ \t]*0[ \t]*\r?\n[ \t]*[A-Z][A-Z0-9_]*[ \t]*\r?$", re.MULTILINE)

_UNITS = {1: ("in", MM), 2: ("ft", 12 * MM), 4: ("mm", 1.0), 5: ("cm", 10.0), 6: ("m", 1000.0), 10: ("yd", 36 * MM)}
_MEANINGS = (("a millimetre each", 1.0), ("an inch each", MM), ("a centimetre each", 10.0), ("a metre each", 1000.0))
_SILENT = {"VIEWPORT", "ATTDEF", "SEQEND"}
_NAMES = {
    "POINT": "single points",
    "DIMENSION": "dimensions",
    "LEADER": "leaders",
    "MULTILEADER": "leaders",
    "IMAGE": "linked pictures",
    "UNDERLAY": "linked drawings",
    "3DSOLID": "solids",
    "BODY": "solids",
    "REGION": "solids",
    "SURFACE": "surfaces",
    "MESH": "surfaces",
    "3DFACE": "surfaces",
    "WIPEOUT": "masks",
    "XLINE": "endless lines",
    "RAY": "endless lines",
    "ACAD_TABLE": "tables",
}
_LINES = (dxf.Line, dxf.Circle, dxf.Ellipse, dxf.Spline, dxf.LWPolyline, dxf.Polyline)  # an arc is a circle to it
Place = tuple[float, float]


def read_dxf(data: bytes) -> Drawing:
    """What is drawn in the model of a DXF file; raises `Refused` where it cannot be read."""
    _check(len(_ENTITY.findall(data)))
    try:
        if data[18:22] == BINARY_DXF:
            document = Document.load(binary_tags_loader(data))
            _check(len(document.entitydb))
        else:
            document, _ = recover.read(io.BytesIO(data))
    except (DXFStructureError, DXFError, OSError, ValueError, KeyError, IndexError, TypeError, AttributeError):
        raise Refused("This DXF file is damaged or of a kind that cannot be read; save it anew as DXF.") from None
    return _Reader(document).drawing()


def _check(count: int) -> None:
    if count > MOST_ENTITIES:
        raise Refused(f"This DXF file holds {count:,} entities; at most {MOST_ENTITIES:,} are read.")


class _Reader:
    def __init__(self, document: Any) -> None:
        self.document = document
        self.notes = Notes()
        self.items: list[Item] = []
        self.texts: list[Written] = []
        self.unit, self.scale = _UNITS.get(int(document.header.get("$INSUNITS", 0) or 0), ("", 1.0))
        self._layers = {layer.dxf.name.lower(): layer for layer in document.layers}
        self._count = self._entities = 0

    def drawing(self) -> Drawing:
        space = self.document.modelspace()
        self._entities = len(space)
        self._read(space, "", "", 0)
        if not self.items and not self.texts:
            papers = [layout for layout in self.document.layouts if layout.name != "Model" and len(layout)]
            if papers:
                self._read(papers[0], "", "", 0)
        meanings = () if self.unit else _MEANINGS
        return Drawing(tuple(self.items), tuple(self.texts), self.unit, meanings, self.notes.told())

    def _read(self, entities: Iterable[dxf.DXFEntity], layer: str, colour: str, depth: int) -> None:
        for entity in entities:
            self._count += 1
            tell(_LOADED + (1 - _LOADED) * self._count / max(self._entities, 1))
            if self._count > _MOST_INSERTED:
                raise Refused(f"With its blocks this DXF file comes to more than {_MOST_INSERTED:,} entities.")
            own_layer = str(entity.dxf.get("layer", "0"))
            own_layer = layer if layer and own_layer == "0" else own_layer
            if not self._is_seen(entity, own_layer):
                self.notes.add("things on layers that are off")
                continue
            own_colour = self._colour(entity, own_layer, colour)
            try:
                self._take(entity, own_layer, own_colour, depth)
            except (DXFError, ValueError, ZeroDivisionError, IndexError, TypeError, ArithmeticError):
                self.notes.add(f"damaged {entity.dxftype().lower()}s")

    def _take(self, entity: dxf.DXFEntity, layer: str, colour: str, depth: int) -> None:
        match entity:
            case dxf.Insert():
                self._insert(entity, layer, colour, depth)
            case dxf.Hatch():
                self._keep(_hatched(entity), layer, fill=colour)
            case dxf.Solid() | dxf.Trace():
                self._keep(self._corners(entity), layer, fill=colour)
            case dxf.Text():
                self._text(entity, layer, colour)
            case dxf.MText():
                self._lines(entity, layer, colour)
            case (
                dxf.Line() | dxf.Arc() | dxf.Circle() | dxf.Ellipse() | dxf.Spline() | dxf.LWPolyline() | dxf.Polyline()
            ):
                found = _path(entity)
                if found is None:
                    self.notes.add("surfaces")
                    return
                self._keep(dashed(found, self._dashes(entity, layer)), layer, stroke=colour)
            case _:
                kind = entity.dxftype()
                if kind not in _SILENT:
                    self.notes.add(_NAMES.get(kind, f"{kind.lower()[:30]} entities"))

    def _insert(self, entity: dxf.Insert, layer: str, colour: str, depth: int) -> None:
        if depth >= _DEEPEST or entity.block() is None:
            self.notes.add("blocks that are not there or made of themselves")
            return
        for one in entity.multi_insert() if entity.mcount > 1 else [entity]:
            self._read(one.virtual_entities(skipped_entity_callback=self._skipped), layer, colour, depth + 1)
            self._read(one.attribs, layer, colour, depth + 1)

    def _skipped(self, entity: dxf.DXFEntity, reason: str) -> None:
        self.notes.add(_NAMES.get(entity.dxftype(), f"{entity.dxftype().lower()[:30]} entities"))

    def _keep(self, path: Path, layer: str, fill: str = "", stroke: str = "") -> None:
        if len(path):
            laid = path.transformed((self.scale, 0.0, 0.0, -self.scale, 0.0, 0.0))
            self.items.append(Item(laid, fill, bool(fill), stroke, layer=layer))

    def _corners(self, entity: dxf.Solid | dxf.Trace) -> Path:
        pen = PathPen()
        first, *rest = [(point.x, point.y) for point in entity.wcs_vertices(close=False)]
        pen.moveTo(first)
        for point in rest:
            pen.lineTo(point)
        pen.closePath()
        return pen.path()

    def _is_seen(self, entity: dxf.DXFEntity, layer: str) -> bool:
        found = self._layers.get(layer.lower())
        return not (entity.dxf.get("invisible", 0) or (found is not None and (found.is_off() or found.is_frozen())))

    def _colour(self, entity: dxf.DXFEntity, layer: str, above: str) -> str:
        true = entity.dxf.get("true_color")
        if true is not None:
            return _hex(colors.int2rgb(true))
        index = int(entity.dxf.get("color", colors.BYLAYER))
        if index == colors.BYBLOCK and above:
            return above
        if index in (colors.BYLAYER, colors.BYBLOCK):
            found = self._layers.get(layer.lower())
            if found is not None and found.dxf.hasattr("true_color"):
                return _hex(colors.int2rgb(found.dxf.true_color))
            index = abs(int(found.dxf.color)) if found is not None else 7
        if index in (7, 255) or not 0 < index < 256:
            return "#000000"  # white on a dark ground is black on a light one
        return _hex(colors.aci2rgb(index))

    def _dashes(self, entity: dxf.DXFEntity, layer: str) -> list[float]:
        """The dashes and gaps of a line, by turns, in units of the drawing; none of one that is whole."""
        name, above = str(entity.dxf.get("linetype", "BYLAYER")), self._layers.get(layer.lower())
        if name.upper() in ("BYLAYER", "BYBLOCK"):
            name = str(above.dxf.get("linetype", "")) if above is not None else ""
        if not name or not self.document.linetypes.has_entry(name):
            return []
        scale = float(self.document.header.get("$LTSCALE", 1.0)) * float(entity.dxf.get("ltscale", 1.0))
        told = [one * scale for one in self.document.linetypes.get(name).simplified_line_pattern()]
        told = told[: len(told) // 2 * 2]
        return [max(one, _DOT * sum(told)) if number % 2 == 0 else one for number, one in enumerate(told)]

    def _text(self, entity: dxf.Text, layer: str, colour: str) -> None:
        align, first, second = entity.get_placement()
        name = align.name
        anchor: Literal["start", "middle", "end"] = "start"
        at = first
        if second is not None and name in ("ALIGNED", "FIT"):
            anchor, at = "start", first
        elif "CENTER" in name or "MIDDLE" in name:
            anchor = "middle"
        elif "RIGHT" in name:
            anchor = "end"
        ocs: OCS = entity.ocs()
        place = ocs.to_wcs(at)
        height = float(entity.dxf.height)
        down = {"T": 1.0, "M": 0.5}.get(name[0], 0.0) if "_" in name or name == "MIDDLE" else 0.0
        self._say(entity.plain_text(), place, height, float(entity.dxf.rotation), anchor, down, entity, layer, colour)

    def _lines(self, entity: dxf.MText, layer: str, colour: str) -> None:
        point = int(entity.dxf.get("attachment_point", 1)) - 1
        anchor: Literal["start", "middle", "end"] = ("start", "middle", "end")[point % 3]
        lines = entity.plain_text(split=True)
        height = float(entity.dxf.char_height)
        apart = height * 5 / 3 * float(entity.dxf.get("line_spacing_factor", 1.0))
        turn = entity.get_rotation()
        down = Vec3.from_deg_angle(turn - 90)
        above = (0.0, (len(lines) - 1) / 2, len(lines) - 1.0)[point // 3] * apart
        hang = (1.0, 0.5, 0.0)[point // 3]
        for number, line in enumerate(lines):
            place = Vec3(entity.dxf.insert) + down * (number * apart - above)
            self._say(line, place, height, turn, anchor, hang, entity, layer, colour)

    def _say(
        self,
        text: str,
        at: Vec3,
        height: float,
        turn: float,
        anchor: Literal["start", "middle", "end"],
        hang: float,
        entity: dxf.DXFEntity,
        layer: str,
        colour: str,
    ) -> None:
        """Keep a line of words; `hang` is how far its baseline lies below its place, in heights of its capitals."""
        if not text.strip():
            return
        at = at + Vec3.from_deg_angle(turn - 90) * (hang * height)
        style = self.document.styles.get(entity.dxf.get("style", "Standard")) if self.document.styles else None
        family = (
            re.sub(r"\.(shx|ttf|otf|ttc)$", "", str(style.dxf.get("font", "")), flags=re.IGNORECASE) if style else ""
        )
        self.texts.append(
            Written(
                text=" ".join(text.split())[:500],
                x=at.x * self.scale,
                y=-at.y * self.scale,
                size=height * self.scale / _EM_TO_CAPITALS,
                family=family[:80],
                anchor=anchor,
                rotation=-turn,
                colour=colour,
                layer=layer,
            )
        )


def _hex(colour: Iterable[int]) -> str:
    return "#" + "".join(f"{part:02x}" for part in tuple(colour)[:3])


def _path(entity: dxf.DXFEntity) -> Path | None:
    """Lines and curves as they lie in the world; None for surfaces."""
    pen = PathPen()
    match entity:
        case dxf.Line():
            _through(pen, [entity.dxf.start, entity.dxf.end])
        case dxf.Circle() if not isinstance(entity, dxf.Arc):
            _circular(pen, entity, 0.0, 360.0)
        case dxf.Arc():
            _circular(pen, entity, float(entity.dxf.start_angle), float(entity.dxf.end_angle))
        case dxf.LWPolyline():
            points = [(x, y, bulge) for x, y, _, _, bulge in entity.get_points()]
            _bulged(pen, points, bool(entity.closed), entity.ocs(), float(entity.dxf.elevation))
        case dxf.Polyline():
            if entity.is_poly_face_mesh or entity.is_polygon_mesh:
                return None
            if entity.is_2d_polyline:
                points = [(v.dxf.location.x, v.dxf.location.y, float(v.dxf.get("bulge", 0))) for v in entity.vertices]
                _bulged(pen, points, bool(entity.is_closed), entity.ocs(), 0.0)
            else:
                _through(pen, [vertex.dxf.location for vertex in entity.vertices], bool(entity.is_closed))
        case _:
            return _curved(curves.make_path(entity, segments=_ELLIPSE_PIECES, level=_SPLINE_LEVEL))
    return pen.path()


def _curved(found: curves.Path) -> Path:
    """A path of the library, which closes where it ends where it begins."""
    pen = PathPen()
    for one in found.sub_paths():
        pen.moveTo((one.start.x, one.start.y))
        for command in one.commands():
            end = (command.end.x, command.end.y)
            match command:
                case curves.LineTo():
                    pen.lineTo(end)
                case curves.Curve3To():
                    pen.qCurveTo((command.ctrl.x, command.ctrl.y), end)
                case curves.Curve4To():
                    pen.curveTo((command.ctrl1.x, command.ctrl1.y), (command.ctrl2.x, command.ctrl2.y), end)
        _finish(pen, one.start.isclose(one.end, abs_tol=1e-9))
    return pen.path()


def _finish(pen: PathPen, closed: bool) -> None:
    if closed:
        pen.closePath()
    else:
        pen.endPath()


def _through(pen: PathPen, points: Iterable[Any], closed: bool = False) -> None:
    first, *rest = [(float(point[0]), float(point[1])) for point in points]
    pen.moveTo(first)
    for point in rest:
        pen.lineTo(point)
    _finish(pen, closed or (len(rest) > 1 and rest[-1] == first))


def _circular(pen: PathPen, entity: dxf.Circle, begin: float, end: float) -> None:
    """An arc that runs against the clock in its own plane, in pieces of at most half a turn."""
    swept = (end - begin) % 360 or 360.0
    pieces = max(2 if swept > 359.999999 else 1, math.ceil(swept / 180 - 1e-9))
    centre, radius, ocs = Vec3(entity.dxf.center), abs(float(entity.dxf.radius)), entity.ocs()

    def on(share: float) -> Place:
        place = ocs.to_wcs(centre + Vec3.from_deg_angle(begin + swept * share, radius))
        return (place.x, place.y)

    pen.moveTo(on(0))
    for number in range(pieces):
        pen.arcTo(on((number + 0.5) / pieces), on((number + 1) / pieces))
    _finish(pen, swept > 359.999999)


def _bulged(pen: PathPen, points: list[tuple[float, float, float]], closed: bool, ocs: OCS, z: float) -> None:
    """A polyline whose bulges are tangents of quarters of the angles that its arcs sweep."""
    if len(points) < 2:
        return

    def seen(x: float, y: float) -> Place:
        place = ocs.to_wcs(Vec3(x, y, z))
        return (place.x, place.y)

    pen.moveTo(seen(*points[0][:2]))
    after = [*points[1:], points[0]] if closed else points[1:]
    for (x, y, bulge), (to_x, to_y, _) in zip(points, after, strict=False):
        if abs(bulge) < 1e-9 or math.hypot(to_x - x, to_y - y) < 1e-9:
            pen.lineTo(seen(to_x, to_y))
            continue
        centre, radius = bulge_center((x, y), (to_x, to_y), bulge), bulge_radius((x, y), (to_x, to_y), bulge)
        begin, swept = math.atan2(y - centre.y, x - centre.x), 4 * math.atan(bulge)
        pieces = max(1, math.ceil(abs(swept) / math.pi - 1e-9))
        for number in range(pieces):
            half, whole = (begin + swept * (number + share) / pieces for share in (0.5, 1.0))
            last = number == pieces - 1
            stop = (to_x, to_y) if last else (centre.x + radius * math.cos(whole), centre.y + radius * math.sin(whole))
            pen.arcTo(seen(centre.x + radius * math.cos(half), centre.y + radius * math.sin(half)), seen(*stop))
    _finish(pen, closed)


def _hatched(entity: dxf.Hatch) -> Path:
    """The contours of a hatch."""
    found: list[Path] = []
    ocs, z = entity.ocs(), float(entity.dxf.elevation.z)
    for boundary in entity.paths.rendering_paths(entity.dxf.hatch_style):
        pen = PathPen()
        if isinstance(boundary, PolylinePath):
            _bulged(pen, [(x, y, bulge) for x, y, bulge in boundary.vertices], True, ocs, z)
            found.append(pen.path())
        elif isinstance(boundary, EdgePath):
            loops = curves.from_hatch_edge_path(boundary, ocs, z)
            found += [_closed(_curved(loop)) for loop in (loops.sub_paths() if loops else ())]
    return join(found)


def _closed(path: Path) -> Path:
    return Path(path.kinds, path.points, path.starts, np.ones(len(path.starts), np.bool_))
