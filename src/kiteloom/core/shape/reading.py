"""Sections and panels as they are kept and sent → what is computed with."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from kiteloom.core.base.fields import Says
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.loft import Loft, Panel, Planform, Station
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


def panel(planform: Says, root: Section, tip: Section | None = None) -> Panel:
    """A wing panel; the tip has the root's section unless given.

    >>> says = {"span_m": 2, "root_chord_m": 1, "tip_chord_m": 0.5}
    >>> panel(says, section({"naca": "0009"})).planform.area_m2
    1.5
    """
    return Panel(
        Planform(planform["span_m"], planform["root_chord_m"], planform["tip_chord_m"], planform.get("sweep_m") or 0.0),
        root,
        tip or root,
    )


def loft(stations: Sequence[Says]) -> Loft:
    """A loft from its stations as they are kept.

    >>> root = {"along_m": 0, "chord_m": 1, "leading_m": 0, "section": {"naca": "0009"}}
    >>> loft([root, {**root, "along_m": 2, "chord_m": 0.5}]).area_m2
    1.5
    """
    return Loft(
        tuple(Station(row["along_m"], row["chord_m"], row["leading_m"], section(row["section"])) for row in stations)
    )


def two_stations(planform: Planform, root: Says, tip: Says) -> list[dict[str, Any]]:
    """A straight panel as stations that `loft` reads.

    >>> [row["along_m"] for row in two_stations(Planform(2, 1, 0.5), {"naca": "0009"}, {"naca": "0009"})]
    [0.0, 2]
    """
    return [
        {"along_m": 0.0, "chord_m": planform.root_chord_m, "leading_m": 0.0, "section": root},
        {
            "along_m": planform.span_m,
            "chord_m": planform.tip_chord_m,
            "leading_m": planform.sweep_m,
            "section": tip,
        },
    ]
