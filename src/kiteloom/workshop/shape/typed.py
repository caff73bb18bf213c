"""Shapes as a builder types them → as they are kept, and back as text."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from kiteloom.core.base.fields import Asked, asked_of, number_text
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, parse, system_of
from kiteloom.core.shape import reading
from kiteloom.core.shape.flat import Kind, Piece, Round, StripAt
from kiteloom.core.shape.loft import StationAt
from kiteloom.core.shape.outline import outlines_of, typed_loops
from kiteloom.core.shape.section import naca4
from kiteloom.formats.airfoil_dat import read_airfoil_dat
from kiteloom.formats.outline_files import loops_in

Pair = tuple[float, float]

#: More corners than this are not given back as text to be edited by hand.
MOST_TYPED = 400


@dataclass(frozen=True)
class SectionTyped:
    """Four digits, or the text of a coordinate file; else the points that are kept already."""

    naca: str = ""
    file: str = ""
    file_name: str = ""
    name: str = ""
    upper: tuple[Pair, ...] = ()
    lower: tuple[Pair, ...] = ()

    @property
    def said(self) -> bool:
        """Whether anything was given."""
        return bool(self.naca.strip() or self.file or self.upper)


@dataclass(frozen=True)
class StationTyped:
    """A station as text; without a section it has that of the one before."""

    at: str = ""
    chord: str = ""
    leading_edge: str = ""
    height: str = ""
    twist: str = ""
    section: SectionTyped = SectionTyped()


@dataclass(frozen=True)
class RibsTyped:
    """Where ribs stand: ``at stations``, ``every 300 mm``, or places apart by semicolons; their caps, and lands."""

    where: str = ""
    width: str = ""
    edge: str = ""


@dataclass(frozen=True)
class StripTyped:
    """A measure across a part, as text."""

    at: str = ""
    across: str = ""


@dataclass(frozen=True)
class PieceTyped:
    """Like pieces, as text; what is not said is empty."""

    name: str = ""
    count: str = ""
    length: str = ""
    width: str = ""
    thickness: str = ""
    face: str = ""


@dataclass(frozen=True)
class OutlineTyped:
    """Corners as text, or the text of a drawing and its unit; ``keep`` for the outline that is kept already."""

    points: str = ""
    dxf: str = ""
    svg: str = ""
    file_name: str = ""
    unit: str = ""
    keep: bool = False


@dataclass(frozen=True)
class ShapeTyped:
    """A whole shape as typed; only what belongs to its kind is read. A bare number is meant in ``system``'s units."""

    kind: Kind
    system: Literal["", "metric", "us"] = ""
    stations: tuple[StationTyped, ...] = ()
    ribs: RibsTyped = RibsTyped()
    outline: OutlineTyped = OutlineTyped()
    strips: tuple[StripTyped, ...] = ()
    measured: Round = "one face"
    pieces: tuple[PieceTyped, ...] = ()


@dataclass(frozen=True)
class ShapeRead:
    """As it is kept, and what was done to understand it, in words."""

    says: dict[str, Any]
    notes: tuple[str, ...] = ()


#: The texts of a row by the fields they are kept in.
STATION = {
    "at": "at_m",
    "chord": "chord_m",
    "leading_edge": "leading_edge_m",
    "height": "height_m",
    "twist": "twist_deg",
}
STRIP = {"at": "at_m", "across": "across_m"}
PIECE = {
    "name": "name",
    "count": "count",
    "length": "length_m",
    "width": "width_m",
    "thickness": "thickness_m",
    "face": "face_m2",
}
_RIBS: dict[str, tuple[str, Asked]] = {
    "width": ("width_m", Asked("Width of a rib's cap", dimension="length", unit=("mm", "in"), low=0, high=1)),
    "edge": ("edge_m", Asked("Land along the edges", dimension="length", unit=("mm", "in"), low=0, high=1)),
}


def read_shape(typed: ShapeTyped, units: UnitSystem, before: Mapping[str, Any] | None = None) -> ShapeRead:
    """What was typed, as it is kept; `Refused` names the field and the row.

    Parameters
    ----------
    before : mapping or None
        The shape as it was kept: a text that still stands as it was shown keeps every digit of its value.
    """
    old = before or {}
    units = typed.system or units
    if typed.kind == "loft":
        read = _loft(typed, units, old)
    elif typed.kind == "outline":
        read = _outline(typed.outline, units, old)
    elif typed.kind == "strips":
        rows = _rows("strips", typed.strips, STRIP, StripAt, units, old.get("strips", ()))
        read = ShapeRead({"strips": list(rows), "measured": typed.measured})
    else:
        read = ShapeRead({"pieces": list(_rows("pieces", typed.pieces, PIECE, Piece, units, old.get("pieces", ())))})
    reading.shape(typed.kind, read.says)  # refuses what can't be built, before anything is kept
    return read


def _rows(
    field: str,
    rows: Sequence[Any],
    names: Mapping[str, str],
    of: type,
    units: UnitSystem,
    old: Sequence[Mapping[str, Any]],
) -> Iterator[dict[str, Any]]:
    """Rows of text as they are kept; rows with nothing in them are left out."""
    asked = asked_of(of)
    kept = {
        name: {asked[name][0].text(row[name], units): row[name] for row in old if row.get(name) is not None}
        for name in names.values()
    }
    for n, row in enumerate(rows):
        texts = {kept_as: getattr(row, name).strip() for name, kept_as in names.items()}
        if not any(texts.values()):
            continue
        says: dict[str, Any] = {}
        for name, text in texts.items():
            if text:
                place = f"{field}.{n}.{name}"
                says[name] = kept[name][text] if text in kept[name] else asked[name][0].value(place, text, units)
            elif name in ("at_m", "chord_m", "across_m", "name", "count"):
                raise Refused(f"{field}.{n}.{name}", f"row {n + 1}: {asked[name][0].label.lower()} is not given yet")
        yield says


def _loft(typed: ShapeTyped, units: UnitSystem, old: Mapping[str, Any]) -> ShapeRead:
    notes: list[str] = []
    stations = list(_rows("stations", typed.stations, STATION, StationAt, units, old.get("stations", ())))
    given = [row for row in typed.stations if any(getattr(row, name).strip() for name in STATION)]
    section: dict[str, Any] = {}
    for n, (says, row) in enumerate(zip(stations, given, strict=True)):
        if row.section.said:
            try:
                section, note = _section(row.section)
            except Refused as refused:
                raise Refused(f"stations.{n}.section", f"station {n + 1}: {refused.sentence}") from None
            notes += [note] if note else []
        elif not section:
            raise Refused(
                f"stations.{n}.section",
                f"station {n + 1} has no section yet; type four NACA digits or choose a coordinate file",
            )
        says["section"] = section
    return ShapeRead({"stations": stations, "ribs": _ribs(typed.ribs, units, old.get("ribs") or {})}, tuple(notes))


def _section(typed: SectionTyped) -> tuple[dict[str, Any], str]:
    if typed.file:
        read = read_airfoil_dat(typed.file, typed.file_name)
        return reading.section_says(read.section), read.note
    if typed.naca.strip():
        digits = typed.naca.strip().upper().removeprefix("NACA").strip()
        return reading.section_says(naca4(digits)), ""
    says = {"name": typed.name or "section", "upper": typed.upper, "lower": typed.lower}
    return reading.section_says(reading.section(says)), ""


def _ribs(typed: RibsTyped, units: UnitSystem, old: Mapping[str, Any]) -> dict[str, Any]:
    says: dict[str, Any] = {}
    where, unit = typed.where.strip(), "in" if system_of(units) == "us" else "mm"
    if where and old and where == _ribs_text(old, units):
        says = {name: old[name] for name in ("every_m", "at_m", "at_stations") if name in old}
    elif every := re.fullmatch(r"every\s+(.+)", where, re.IGNORECASE):
        says["every_m"] = parse(every[1], "length", unit, "ribs")
    elif where.lower() in ("at stations", "stations", "at the stations"):
        says["at_stations"] = True
    elif where:
        says["at_m"] = [parse(place, "length", unit, "ribs") for place in where.split(";") if place.strip()]
    for name, (kept_as, asked) in _RIBS.items():
        text = getattr(typed, name).strip()
        if text:
            same = kept_as in old and asked.text(old[kept_as], units) == text
            says[kept_as] = old[kept_as] if same else asked.value(f"ribs.{name}", text, units)
    return says


def _outline(typed: OutlineTyped, units: UnitSystem, old: Mapping[str, Any]) -> ShapeRead:
    unit = "in" if system_of(units) == "us" else "mm"
    if typed.keep and old.get("outlines"):
        return ShapeRead({"outlines": old["outlines"]})
    if typed.dxf or typed.svg:
        kind: Literal["dxf", "svg"] = "dxf" if typed.dxf else "svg"
        loops, used, notes = loops_in(kind, typed.dxf or typed.svg, typed.unit or None)
        notes = [
            f"It was drawn in {used}." if used != "px" else "It was drawn in pixels.",
            *(_sentence(n) for n in notes),
        ]
    else:
        if old.get("outlines") and typed.points.strip() == _points_text(old, units).strip():
            return ShapeRead({"outlines": old["outlines"]})
        loops, notes = typed_loops(typed.points, typed.unit or unit), []
        if not loops:
            raise Refused("outline", "no corner is given yet; type x and y, a line each, or choose a DXF or SVG file")
    outlines, more = outlines_of(loops)
    return ShapeRead(reading.outline_says(outlines), (*notes, *(_sentence(n) for n in more)))


def _sentence(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}."


def typed_shape(kind: Kind, says: Mapping[str, Any], units: UnitSystem) -> ShapeTyped:
    """A kept shape as it is typed; what `read_shape` then makes of it is the same."""
    if kind == "loft":
        asked = asked_of(StationAt)
        stations = []
        for row in says["stations"]:
            texts = {
                name: asked[kept][0].text(row[kept], units)
                for name, kept in STATION.items()
                if row.get(kept) and name not in ("at", "chord")
            }
            texts |= {name: asked[STATION[name]][0].text(row[STATION[name]], units) for name in ("at", "chord")}
            stations.append(StationTyped(**texts, section=_section_typed(row["section"])))
        ribs = says.get("ribs") or {}
        widths = {
            name: one.text(ribs[kept_as], units) if kept_as in ribs else "" for name, (kept_as, one) in _RIBS.items()
        }
        return ShapeTyped("loft", stations=tuple(stations), ribs=RibsTyped(_ribs_text(ribs, units), **widths))
    if kind == "outline":
        points = _points_text(says, units)
        return ShapeTyped("outline", outline=OutlineTyped(points, keep=not points))
    if kind == "strips":
        rows = (_row_text(row, STRIP, StripAt, units) for row in says["strips"])
        return ShapeTyped("strips", strips=tuple(StripTyped(**row) for row in rows), measured=says["measured"])
    return ShapeTyped(
        "pieces", pieces=tuple(PieceTyped(**_row_text(row, PIECE, Piece, units)) for row in says["pieces"])
    )


def _row_text(row: Mapping[str, Any], names: Mapping[str, str], of: type, units: UnitSystem) -> dict[str, str]:
    asked = asked_of(of)
    return {
        name: asked[kept_as][0].text(row[kept_as], units)
        for name, kept_as in names.items()
        if row.get(kept_as) is not None
    }


def _section_typed(says: Mapping[str, Any]) -> SectionTyped:
    if says.get("naca"):
        return SectionTyped(naca=says["naca"])
    return SectionTyped(
        name=says.get("name", ""),
        upper=tuple((x, y) for x, y in says["upper"]),
        lower=tuple((x, y) for x, y in says["lower"]),
    )


def _ribs_text(ribs: Mapping[str, Any], units: UnitSystem) -> str:
    unit = "in" if system_of(units) == "us" else "mm"
    if ribs.get("every_m"):
        return f"every {number_text(ribs['every_m'], 'length', unit)}"
    if ribs.get("at_stations"):
        return "at stations"
    return "; ".join(number_text(at, "length", unit) for at in ribs.get("at_m") or ())


def _points_text(says: Mapping[str, Any], units: UnitSystem) -> str:
    """The corners as text, a line each; ``""`` where there are too many to be edited by hand."""
    rings = [ring for row in says["outlines"] for ring in (row["outer_mm"], *row["holes_mm"])]
    if sum(len(ring) for ring in rings) > MOST_TYPED:
        return ""
    unit = "in" if system_of(units) == "us" else "mm"
    loops = ["\n".join(", ".join(number_text(v / 1000, "length", unit) for v in p) for p in ring) for ring in rings]
    return "\n\n".join(loops)
