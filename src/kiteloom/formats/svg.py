"""Outlines in SVG files: paths and basic shapes with their transforms. Nothing in a file is ever run."""

from __future__ import annotations

import io
import math
import re
from xml.etree import ElementTree

import numpy as np
from svgelements import SVG, Arc, Close, CubicBezier, Line, Move, Path, QuadraticBezier, Shape

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.outline import MOST_CORNERS, STRAY_MM, Place
from kiteloom.formats.dxf import UNIT_MM

PIXEL_MM = 25.4 / 96
#: What a width may be in, and what then is said of it; percent and font sizes say nothing of a length.
_LENGTHS = {**UNIT_MM, "px": PIXEL_MM, "pt": 25.4 / 72, "pc": 25.4 / 6, "q": 0.25}
#: What is drawn only through something else, or not at all.
_NOT_DRAWN = ("clipPath", "mask", "pattern", "marker", "script", "style", "metadata", "foreignObject", "filter")
#: What is seen but has no outline.
_LEFT_OUT = ("text", "image", "foreignObject", "script")


def read_svg(text: str, unit: str | None = None) -> tuple[list[list[Place]], str, list[str]]:
    """The lines of a drawing [mm] with y up, the unit they were drawn in, and what was assumed in words.

    Parameters
    ----------
    unit : str or None
        What one user unit is, where it is given: width and height are then ignored.

    Raises
    ------
    Refused
        If it is no drawing, or has too many corners.
    """
    if "<!ENTITY" in text:
        raise Refused("outline", "the file defines entities; save it as plain SVG and try again")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise Refused("outline", f"the file is no SVG drawing that can be read ({error})") from None
    if _name(root) != "svg":
        raise Refused("outline", f"the file begins with “{_name(root)[:40]}”; an SVG drawing begins with “svg”")
    used, scale, assumed = _unit(root, unit)
    left_out = _cleared(root)
    if left_out:
        assumed.append(f"left out, as they are no outline: {', '.join(left_out)}")
    try:
        drawing = SVG.parse(io.StringIO(ElementTree.tostring(root, encoding="unicode")), reify=True, ppi=96)
        shapes = [element for element in drawing.elements() if isinstance(element, Shape)]
        lines = [line for shape in shapes for line in _lines(_settled(shape), STRAY_MM / 8 / scale)]
    except (ValueError, TypeError, ZeroDivisionError, AttributeError, IndexError, RecursionError) as error:
        raise Refused("outline", f"the drawing can't be read ({str(error)[:80]})") from None
    if sum(len(line) for line in lines) > MOST_CORNERS:
        raise Refused("outline", f"the drawing has more than {MOST_CORNERS} corners; it is a scan, not an outline")
    return [[(x * scale, -y * scale) for x, y in line] for line in lines], used, assumed


def _name(element: ElementTree.Element) -> str:
    return str(element.tag).rpartition("}")[2]


def _unit(root: ElementTree.Element, unit: str | None) -> tuple[str, float, list[str]]:
    """The unit's name, millimetres in what the parser counts in, and what was assumed."""
    size = [_length(root.get(name, "")) for name in ("width", "height")]
    box = [float(cell) for cell in re.findall(r"-?[\d.]*\d(?:[eE][+-]?\d+)?", root.get("viewBox", ""))]
    for name in ("width", "height", "viewBox", "preserveAspectRatio"):
        root.attrib.pop(name, None)
    if unit:
        if unit not in UNIT_MM:
            raise Refused("unit", f"“{unit[:20]}” is not a unit of a drawing; it is {', '.join(UNIT_MM)}")
        return unit, UNIT_MM[unit], []
    scales = [
        length[0] / width
        for length, width in zip(size, box[2:4], strict=False)
        if length is not None and length[0] > 0 and width > 0
    ]
    # Where both are said the drawing is fitted whole, as it is shown by default.
    scale = min(scales) if scales else PIXEL_MM
    said = next((length[1] for length in size if length is not None and length[1] != "px"), "")
    if said and (scales or not box):
        return said, scale, []
    return "px", scale, ["it says no unit of length: a pixel was taken as 1/96 in"]


def _length(text: str) -> tuple[float, str] | None:
    """A width or height [mm] and its unit; None where it says no length."""
    found = re.fullmatch(r"\s*([\d.]+(?:[eE][+-]?\d+)?)\s*([a-zA-Z]*)\s*", text)
    unit = (found[2].lower() or "px") if found else ""
    return (float(found[1]) * _LENGTHS[unit], unit) if found and unit in _LENGTHS else None


def _cleared(root: ElementTree.Element) -> list[str]:
    """Take out what is not drawn; the names of what is seen but has no outline."""
    seen: dict[str, int] = {}
    for parent in list(root.iter()):
        for child in list(parent):
            if _name(child) in _LEFT_OUT:
                seen[_name(child)] = seen.get(_name(child), 0) + 1
            if _name(child) in (*_NOT_DRAWN, *_LEFT_OUT):
                parent.remove(child)
    return [f"{count} {name}" for name, count in sorted(seen.items())]


def _settled(shape: Shape) -> Path:
    """A shape as a path whose points are where they are seen: a turned circle keeps its transform until it is one."""
    path = Path(shape)
    path.reify()
    return path


def _lines(path: Path, stray: float) -> list[list[Place]]:
    found: list[list[Place]] = []
    for piece in path:
        if isinstance(piece, Move):
            found.append([(piece.end.x, piece.end.y)] if piece.end is not None else [])
        elif piece.end is not None:
            if not found or not found[-1]:
                found.append([(piece.start.x, piece.start.y)])
            found[-1] += _points(piece, stray)
            if isinstance(piece, Close):
                found.append([])
    for line in found:
        if not all(math.isfinite(v) for point in line for v in point):
            raise Refused("outline", "a path has a corner that is not an ordinary number")
    return [line for line in found if len(line) > 1]


def _points(piece: Line | Close | Arc | CubicBezier | QuadraticBezier, stray: float) -> list[Place]:
    """The points after a piece's first."""
    if isinstance(piece, CubicBezier):
        bend = max(
            abs(complex(piece.start - 2 * piece.control1 + piece.control2)),
            abs(complex(piece.control1 - 2 * piece.control2 + piece.end)),
        )
        steps = math.ceil(math.sqrt(6 * bend / (8 * stray)))
    elif isinstance(piece, QuadraticBezier):
        bend = abs(complex(piece.start - 2 * piece.control + piece.end))
        steps = math.ceil(math.sqrt(2 * bend / (8 * stray)))
    elif isinstance(piece, Arc):
        radius = max(piece.rx, piece.ry)
        steps = math.ceil(abs(piece.sweep) / (2 * math.acos(1 - min(stray / radius, 0.5)))) if radius else 1
    else:
        steps = 1
    if steps <= 1:
        return [(piece.end.x, piece.end.y)]
    if steps > MOST_CORNERS:
        raise Refused("outline", f"a curve would need {steps} corners; at most {MOST_CORNERS} are computed with")
    at = np.linspace(0, 1, steps + 1)[1:]
    return [(float(x), float(y)) for x, y in np.asarray(piece.npoint(at)).reshape(-1, 2)]
