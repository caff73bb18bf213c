"""Shapes as they are kept and sent → what is computed with, and back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import count, takewhile
from typing import Any

from kiteloom.core.base.fields import Says, asked_of, made
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.flat import KINDS, Flat, Piece, Pieces, Shape, StripAt, Strips
from kiteloom.core.shape.loft import Loft, Ribs, Station, StationAt
from kiteloom.core.shape.outline import Outline, outlines_of
from kiteloom.core.shape.section import Section, naca4, section_from_points, section_from_sides


def section(says: Says, name: str = "section") -> Section:
    """``{"naca": …}``, ``{"points": …}`` in one line or two lists, or ``{"upper": …, "lower": …}``.

    >>> section({"naca": "2412"}).name
    'NACA 2412'
    """
    called = says.get("name") or name
    if says.get("naca"):
        return naca4(says["naca"])
    if says.get("upper") and says.get("lower"):
        return section_from_sides(called, says["upper"], says["lower"])
    points = says.get("points")
    if isinstance(points, Mapping):
        return section_from_sides(called, points["upper"], points["lower"])
    if not points:
        raise Refused("section", "section has neither “naca” nor “points”; one of them is wanted")
    if isinstance(points[0][0], (list, tuple)):
        if len(points) != 2:
            raise Refused("section.points", f"section.points has {len(points)} lists; 2 are wanted, upper and lower")
        return section_from_sides(called, points[0], points[1])
    return section_from_points(called, points)


def section_says(read: Section) -> dict[str, Any]:
    """A section as JSON that `section` reads back.

    >>> says = section_says(section({"naca": "0009"}))
    >>> section(says).upper == section({"naca": "0009"}).upper
    True
    """
    if read.name.startswith("NACA "):
        return {"naca": read.name.removeprefix("NACA ")}
    return {"name": read.name, "upper": [list(p) for p in read.upper], "lower": [list(p) for p in read.lower]}


def loft(stations: Sequence[Says], ribs: Says | None = None) -> Loft:
    """A loft from its stations and ribs as they are kept.

    Ribs stand ``at`` given places, ``every`` so far from the root on, or at the stations; each [m].

    >>> root = {"at_m": 0, "chord_m": 1, "section": {"naca": "0009"}}
    >>> made = loft([root, {**root, "at_m": 2, "chord_m": 0.5}], {"every_m": 0.5})
    >>> made.area_m2, made.ribs.at_m
    (1.5, (0.0, 0.5, 1.0, 1.5, 2.0))
    """
    rows = []
    for n, row in enumerate(stations):
        try:
            read = section(row["section"])
        except Refused as refused:
            raise Refused(f"stations.{n}.section", refused.sentence) from None
        measures = {name: row[name] for name in asked_of(StationAt) if row.get(name) is not None}
        for name, label in (("at_m", "along the span"), ("chord_m", "chord")):
            if name not in measures:
                raise Refused(f"stations.{n}.{name}", f"station {n + 1}: {label} is not given yet")
        rows.append(Station(**measures, section=read))
    return Loft(tuple(rows), _ribs(rows, ribs or {}))


def _ribs(rows: Sequence[Station], says: Says) -> Ribs:
    every, at = says.get("every_m"), says.get("at_m")
    places: tuple[float, ...] = ()
    if rows and every is not None:
        if every < 0.01:
            raise Refused("ribs", f"ribs every {every * 1000:g} mm; at least 10 mm apart are built")
        first, last = rows[0].at_m, rows[-1].at_m
        places = tuple(takewhile(lambda y: y <= last + 1e-9, (first + n * every for n in count())))
    elif at is not None:
        places = tuple(sorted(set(at)))
    elif says.get("at_stations"):
        places = tuple(row.at_m for row in rows)
    return Ribs(places, says.get("width_m") or 0.0, says.get("edge_m") or 0.0)


def shape(kind: str, says: Says) -> Shape:
    """A shape of its kind as it is kept.

    >>> shape("pieces", {"pieces": [{"name": "rib", "count": 3, "length_m": 0.5, "width_m": 0.1}]}).count
    3
    """
    if kind == "loft":
        return loft(says.get("stations") or [], says.get("ribs"))
    if kind == "outline":
        rows = says.get("outlines") or []
        loops = [ring for row in rows for ring in (row["outer_mm"], *row.get("holes_mm", ()))]
        return Flat(tuple(outlines_of([[(x, y) for x, y in loop] for loop in loops])[0]))
    if kind == "strips":
        strips = tuple(made(StripAt, row) for row in says.get("strips") or [])
        return Strips(strips, says.get("measured") or "one face")
    if kind == "pieces":
        return Pieces(tuple(made(Piece, row) for row in says.get("pieces") or []))
    raise Refused("kind", f"“{str(kind)[:40]}” is not a kind of shape; they are {', '.join(KINDS)}")


def outline_says(outlines: Sequence[Outline]) -> dict[str, Any]:
    """Outlines as they are kept.

    >>> outline_says([Outline(((0, 0), (1, 0), (1, 1)))])
    {'outlines': [{'outer_mm': [[0, 0], [1, 0], [1, 1]], 'holes_mm': []}]}
    """
    return {
        "outlines": [
            {"outer_mm": [list(p) for p in one.outer], "holes_mm": [[list(p) for p in hole] for hole in one.holes]}
            for one in outlines
        ]
    }


def station_says(row: Station) -> dict[str, Any]:
    """A station as it is kept: what is 0 by itself is left out."""
    measures = {name: getattr(row, name) for name in asked_of(StationAt)}
    said = {name: value for name, value in measures.items() if value or name in ("at_m", "chord_m")}
    return {**said, "section": section_says(row.section)}
