"""Outlines in DXF files: lines, arcs, polylines with bulges, splines and inserted blocks of model space."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from typing import Any

import ezdxf
from ezdxf import recover
from ezdxf.document import Drawing
from ezdxf.entities.insert import Insert
from ezdxf.lldxf.const import DXFError
from ezdxf.math import OCS, Vec3, bulge_to_arc

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.outline import MOST_CORNERS, STRAY_MM, Place

#: Millimetres in a unit that a drawing may be in.
UNIT_MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
#: The header's numbers for them.
_HEADER = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m"}
#: How deep blocks may lie in blocks.
_DEEPEST = 20
#: Lines that are not flat on the drawing's plane, or hold no outline by themselves.
_KNOWN = ("LINE", "ARC", "CIRCLE", "ELLIPSE", "LWPOLYLINE", "POLYLINE", "SPLINE")


def read_dxf(text: str, unit: str | None = None) -> tuple[list[list[Place]], str, list[str]]:
    """The lines of a drawing [mm], the unit they were drawn in, and what was assumed in words.

    Parameters
    ----------
    unit : str or None
        ``mm``, ``cm``, ``m``, ``in`` or ``ft``; the header's holds unless it is given.

    Raises
    ------
    Refused
        If it is no drawing, says no unit and none is given, or has too many corners.
    """
    drawing = _opened(text)
    used, assumed = _unit(drawing, unit, says="$INSUNITS" in text), list[str]()
    left_out: dict[str, int] = {}
    lines: list[list[Place]] = []
    corners = 0
    for line in _lines(drawing.modelspace(), STRAY_MM / 8 / UNIT_MM[used], left_out, 0):
        corners += len(line)
        if corners > MOST_CORNERS:
            raise Refused("outline", f"the drawing has more than {MOST_CORNERS} corners; it is a scan, not an outline")
        lines.append([(x * UNIT_MM[used], y * UNIT_MM[used]) for x, y in line])
    if left_out:
        names = ", ".join(f"{count} {name}" for name, count in sorted(left_out.items()))
        assumed.append(f"left out, as they are no outline: {names}")
    return lines, used, assumed


def _opened(text: str) -> Drawing:
    if "EOF" not in text[-400:]:
        raise Refused("outline", "the file is no DXF drawing, or cut off: its last line, EOF, is missing")
    try:
        return ezdxf.read(io.StringIO(text))  # type: ignore[attr-defined]
    except (DXFError, ValueError, TypeError, AttributeError, KeyError, IndexError):
        pass
    try:
        return recover.read(io.BytesIO(text.encode("utf-8", "replace")))[0]
    except Exception as error:  # a damaged drawing fails in many ways
        raise Refused(
            "outline", f"the file is no DXF drawing that can be read ({str(error)[:80] or 'it is damaged'})"
        ) from None


def _unit(drawing: Drawing, unit: str | None, *, says: bool) -> str:
    if unit:
        if unit not in UNIT_MM:
            raise Refused("unit", f"“{unit[:20]}” is not a unit of a drawing; it is {', '.join(UNIT_MM)}")
        return unit
    # A drawing without the line has a unit only by the library's own default.
    said = int(drawing.header.get("$INSUNITS", 0) or 0) if says else 0
    if said in _HEADER:
        return _HEADER[said]
    why = "says no unit" if said == 0 else f"is in a unit that is not built in (its number is {said})"
    raise Refused("unit", f"the drawing {why}; say whether it is in {', '.join(UNIT_MM)}")


def _lines(entities: Any, stray: float, left_out: dict[str, int], depth: int) -> Iterator[list[Place]]:
    for entity in entities:
        kind = entity.dxftype()
        if isinstance(entity, Insert):
            if depth >= _DEEPEST:
                raise Refused("outline", f"blocks lie more than {_DEEPEST} deep in each other")
            for one in entity.multi_insert() if entity.mcount > 1 else (entity,):
                yield from _lines(one.virtual_entities(), stray, left_out, depth + 1)
        elif kind in _KNOWN and _flat(entity):
            found = [(float(p.x), float(p.y)) for p in _points(entity, kind, stray)]
            if not all(math.isfinite(v) for p in found for v in p):
                raise Refused("outline", f"a {kind} has a corner that is not an ordinary number")
            yield found
        elif kind not in ("VIEWPORT", "ATTDEF", "SEQEND"):
            left_out[kind] = left_out.get(kind, 0) + 1


def _flat(entity: Any) -> bool:
    """A mesh has no outline."""
    return entity.dxftype() != "POLYLINE" or bool(entity.is_2d_polyline or entity.is_3d_polyline)


def _points(entity: Any, kind: str, stray: float) -> list[Vec3]:
    if kind == "LINE":
        return [entity.dxf.start, entity.dxf.end]
    if kind in ("ARC", "CIRCLE"):
        if entity.dxf.radius <= 0:
            return []
        return list(entity.flattening(min(stray, entity.dxf.radius / 4)))
    if kind in ("ELLIPSE", "SPLINE"):
        return list(entity.flattening(stray))
    if kind == "LWPOLYLINE":
        ocs, high = entity.ocs(), entity.dxf.elevation
        rows = [(Vec3(x, y, high), bulge) for x, y, bulge in entity.get_points("xyb")]
        return _with_bulges(rows, closed=entity.closed, ocs=ocs, stray=stray)
    if entity.is_3d_polyline:
        points = [vertex.dxf.location for vertex in entity.vertices]
        return [*points, points[0]] if entity.is_closed and points else points
    rows = [
        (vertex.dxf.location, vertex.dxf.get("bulge", 0.0)) for vertex in entity.vertices if not vertex.dxf.flags & 16
    ]  # 16: the frame of a curve, not its line
    return _with_bulges(rows, closed=entity.is_closed, ocs=entity.ocs(), stray=stray)


def _with_bulges(rows: list[tuple[Vec3, float]], *, closed: bool, ocs: OCS, stray: float) -> list[Vec3]:
    """Corners, and between two with a bulge the points of the arc."""
    if closed and rows:
        rows = [*rows, (rows[0][0], 0.0)]
    found: list[Vec3] = []
    for n, (start, bulge) in enumerate(rows):
        found.append(start)
        if bulge and n + 1 < len(rows) and start.distance(rows[n + 1][0]) > 1e-12:
            end = rows[n + 1][0]
            centre, first, last, radius = bulge_to_arc(start, end, bulge)
            # The arc's angles are given as it runs to the left; a negative bulge runs it the other way.
            first = first if bulge > 0 else last
            turn = 4 * math.atan(bulge)
            steps = max(1, math.ceil(abs(turn) / (2 * math.acos(1 - min(stray / radius, 0.5)))))
            for step in range(1, steps):
                angle = first + turn * step / steps
                found.append(Vec3(centre.x + radius * math.cos(angle), centre.y + radius * math.sin(angle), start.z))
    return list(ocs.points_to_wcs(found)) if ocs.transform else found
