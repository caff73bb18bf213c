"""Ribs, gussets, skins and frames cut from plywood as like pieces: sawn over size, in packs routed to a pattern.

A pack is as many like pieces as saw and router take at once; one pattern serves all of them. The grain of the face ply
runs along a piece's length. What a pack may be, what is left for the router and hands-on minutes are common practice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any, cast

from shapely.affinity import translate
from shapely.geometry import Polygon, box

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.figures import Given as By
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.gluing import TOOLS
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Role, Task
from kiteloom.core.laminate.pieces import Piece
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.flat import Flat, Pieces, Strips
from kiteloom.core.shape.loft import Loft
from kiteloom.core.shape.skin import polygons_of
from kiteloom.core.stores.materials import WoodSheet
from kiteloom.core.weight.part import Stays

#: Plywood of birch (common practice), where its sheet says nothing [kg/m³].
BIRCH_KG_M3 = 680.0
#: A section is drawn no finer [m].
_FINE_M = 0.0001
_LENGTH: dict[str, Any] = {"dimension": "length", "unit": ("mm", "in")}
_SHARE: dict[str, Any] = {"dimension": "share", "scale": 100, "unit": ("%", "%"), "low": 0, "high": 1}


@dataclass(frozen=True)
class Given:
    """What is cut of its shape, and how."""

    rib_pitch_m: Annotated[
        float | None, Asked("Rib pitch, where its shape has no ribs", **_LENGTH, low=0.02, high=5)
    ] = None
    from_share: Annotated[float, Asked("Ribs reach from, of the chord", **_SHARE)] = 0.0
    to_share: Annotated[float, Asked("to", **_SHARE)] = 1.0
    under_m: Annotated[float, Asked("They lie under a skin or cap of", **_LENGTH, low=0, high=0.1)] = 0.0
    holes: Annotated[int, Asked("Holes in each", "count", low=0, high=40)] = 0
    hole_m: Annotated[float, Asked("across", **_LENGTH, low=0.002, high=1)] = 0.04
    gussets: Annotated[int, Asked("Gussets", "count", low=0, high=2000)] = 0
    gusset_m: Annotated[float, Asked("with sides of", **_LENGTH, low=0.01, high=0.5)] = 0.04
    router_m: Annotated[float, Asked("Left for the router all round", **_LENGTH, low=0, high=0.02)] = 0.002
    pack_m: Annotated[float, Asked("Saw and router take at once", **_LENGTH, low=0.0005, high=0.2)] = 0.012


@dataclass(frozen=True)
class Like:
    """Like pieces: what they are called, the outline of one as it is finished [m], how many."""

    name: str
    outline: Polygon
    count: int


def _sheet(task: Task[Given]) -> WoodSheet:
    return cast(WoodSheet, task.materials["sheet"])


def likes(task: Task[Given]) -> tuple[Like, ...]:
    """What is cut: its ribs, its outlines or its pieces, and gussets.

    Raises
    ------
    Refused
        If nothing is left of a rib, or its shape says no ribs.
    """
    shape, given = task.shape, task.given
    found: list[Like] = []
    if isinstance(shape, Loft):
        found = list(_ribs(shape, given, task.units))
    elif isinstance(shape, Flat):
        for n, one in enumerate(shape.outlines, 1):
            outer = Polygon([(x / 1000, y / 1000) for x, y in one.outer])
            found.append(Like(f"{n}" if len(shape.outlines) > 1 else "1", outer, 1))
    elif isinstance(shape, Pieces):
        for row in shape.pieces:
            if not row.length_m or not row.one_face_m2:
                raise Refused("shape", f"{row.name} has no length and width; a piece that is cut has both")
            width = row.width_m or row.one_face_m2 / row.length_m
            found.append(Like(row.name, box(0, 0, row.length_m, width), row.count))
    else:
        assert isinstance(shape, Strips)
        found.append(Like("1", Polygon(shape.rings()[0]), 1))
    if given.gussets:
        side = given.gusset_m
        found.append(Like("gusset", Polygon([(0, 0), (side, 0), (0, side)]), given.gussets))
    return tuple(found)


@lru_cache(maxsize=128)
def _ribs(shape: Loft, given: Given, units: UnitSystem) -> tuple[Like, ...]:
    places = shape.ribs.at_m
    if not places:
        if given.rib_pitch_m is None:
            raise Refused("rib_pitch_m", "not given yet: Rib pitch, or ribs in its shape")
        first = shape.stations[0].at_m
        places = tuple(first + n * given.rib_pitch_m for n in range(int(shape.span_m / given.rib_pitch_m + 1e-9) + 1))
    between("ribs", len(places), 1, 500)
    if given.to_share <= given.from_share:
        raise Refused(
            "to_share", f"its ribs reach from {100 * given.from_share:g} % to {100 * given.to_share:g} % of the chord"
        )
    found: list[Like] = []
    for n, at in enumerate(places, 1):
        whole = Polygon(shape.section_at(at)).buffer(0)
        left, low, right, high = whole.bounds
        chord = right - left
        cut = whole.intersection(box(left + given.from_share * chord, low - 1, left + given.to_share * chord, high + 1))
        cut = cut.buffer(-given.under_m, join_style="mitre") if given.under_m else cut
        parts = sorted(polygons_of(cut.simplify(_FINE_M)), key=lambda one: one.area)
        if not parts or parts[-1].area < 1e-5:
            skin = show(1000 * given.under_m, "reading", units)
            raise Refused("under_m", f"nothing is left of rib {n} under a skin of {skin}")
        rib = parts[-1]
        rib = translate(rib, -rib.bounds[0], -rib.bounds[1])
        if found and rib.equals_exact(found[-1].outline, 5e-4):
            last = found.pop()
            found.append(Like(f"{last.name.partition('–')[0]}–{n}", last.outline, last.count + 1))
        else:
            found.append(Like(f"rib {n}", rib, 1))
    return tuple(found)


def pieces(task: Task[Given], _: float | None = None) -> tuple[Piece, ...]:
    """What is sawn from the sheet: each as it is finished, and what the router takes off it again.

    >>> task = replace(example(RECIPE), form=PLANK, given=Given(rib_pitch_m=1.0, gussets=8))
    >>> [(one.id, one.quantity) for one in pieces(task)]
    [('rib 1–5', 5), ('gusset', 8)]
    """
    return tuple(
        Piece(one.name, n, _grown(one.outline, task.given.router_m), 0.0, one.count)
        for n, one in enumerate(likes(task))
    )


def _grown(outline: Polygon, by_m: float) -> tuple[tuple[float, float], ...]:
    whole = outline.buffer(by_m, join_style="mitre", mitre_limit=2.0) if by_m else outline
    ring = polygons_of(whole.simplify(_FINE_M))[0].exterior.coords[:-1]
    return tuple((round(1000 * x, 2), round(1000 * y, 2)) for x, y in ring)


def packs(task: Task[Given]) -> tuple[tuple[Like, int, int], ...]:
    """Like pieces, how many lie in a pack, and how many packs of them there are."""
    at_once = max(int(task.given.pack_m / (_sheet(task).thickness_mm / 1000) + 1e-9), 1)
    return tuple((one, min(one.count, at_once), math.ceil(one.count / at_once)) for one in likes(task))


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['pattern', 'saw', 'rout', 'mark']
    """
    given, stacked = task.given, packs(task)
    count = sum(one.count for one, _, _ in stacked)
    many = sum(packs for _, _, packs in stacked)
    most = max(size for _, size, _ in stacked)
    dust = f"{TOOLS} A router pulls: fence, both hands on it, never against its turn."
    pattern = Estimate(20, each_min=18, count=len(stacked), piece="patterns")
    saw = Estimate(20, each_min=4, count=count, piece="pieces")
    rout = Estimate(20, each_min=12, count=many, piece="packs")
    mark = Estimate(10, each_min=1, count=count, piece="pieces")

    def step(key: str, name: str, estimate: Estimate, *after: str, **more: Any) -> Step:
        return Step(key, name, estimate.minutes, 1, tuple(After(one) for one in after), may_pause=True,
                    estimate=estimate, caution=dust, stations=("bench",), **more)  # fmt: skip

    found = [
        step("pattern", f"Make {len(stacked)} patterns, fair, with their lines", pattern),
        step("saw", f"Saw {count} pieces out of the sheets, over size", saw, "pattern",
             listed=True, kind="saw"),
        step("rout", f"Rout {many} packs to their pattern, {most} at once at most", rout, "saw",
             listed=True, kind="rout"),
    ]  # fmt: skip
    last = "rout"
    if given.holes:
        bored = Estimate(10, each_min=1.5, count=given.holes * many, piece="holes")
        found.append(step("holes", f"Bore {given.holes} holes through each pack", bored, last))
        last = "holes"
    found.append(step("mark", "Take the packs apart; mark number, left or right, which end is forward", mark, last))
    return tuple(found)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Sheets, by area alone: its cut plan says exactly."""
    sheet = _sheet(task)
    area = sum(one.count * polygon_m2(one, task.given.router_m) for one in likes(task))
    found = [Supply("saw", sheet.name, area, "area", "its pieces with what the router takes")]
    if sheet.length_m and sheet.width_m:
        one = By("one sheet", sheet.length_m * sheet.width_m, "area")
        rule = "its pieces ÷ one sheet, whole ones; more where they do not nest: its cut plan says"
        found.append(Supply("saw", f"{sheet.name}, sheets", math.ceil(area / (sheet.length_m * sheet.width_m) - 1e-9),
                            "count", rule, (one,)))  # fmt: skip
    return tuple(found)


def polygon_m2(one: Like, router_m: float) -> float:
    """The area of one piece as it is sawn [m²]."""
    return (
        float(one.outline.buffer(router_m, join_style="mitre", mitre_limit=2.0).area) if router_m else one.outline.area
    )


def wood(task: Task[Given]) -> tuple[Stays, ...]:
    """What its pieces weigh, without their holes."""
    sheet, given = _sheet(task), task.given
    hole = given.holes * math.pi / 4 * given.hole_m**2
    area = sum(one.count * max(one.outline.area - (0.0 if one.name == "gusset" else hole), 0.0) for one in likes(task))
    dense = sheet.density_kg_m3 or BIRCH_KG_M3
    by = (By("thickness", sheet.thickness_mm, "thickness"),
          By("density", dense, "density", assumed=sheet.density_kg_m3 is None))  # fmt: skip
    return (Stays("saw", "wood", sheet.name, area * sheet.thickness_mm * dense, "area × thickness × density", by),)


def asks(task: Task[Given]) -> tuple[str, ...]:
    """What is asked: holes larger than a piece is high."""
    found, given = [], task.given
    if given.holes:
        low = min(
            (one for one in likes(task) if one.name != "gusset"), key=lambda one: _high(one.outline), default=None
        )
        if low is not None and given.hole_m > 0.6 * _high(low.outline):
            hole, high = (task.says(1000 * size, "step") for size in (given.hole_m, _high(low.outline)))
            found.append(f"Holes of {hole} in {low.name}, which is {high} high, leave little of it: the designer says "
                         "how large they may be.")  # fmt: skip
    return tuple(found)


def _high(outline: Polygon) -> float:
    _, low, _, high = outline.bounds
    return float(high - low)


def items(task: Task[Given], step_key: str) -> tuple[Item, ...]:
    """The run sheet of sawing, or of routing pack by pack.

    >>> [item.key for item in items(example(RECIPE), "saw")]
    ['ready', 'lay', 'saw', 'stack']
    """
    if step_key == "saw":
        return (
            Item("ready", "Sheets looked over on both faces; their cut plan beside them"),
            Item("lay", "Laid out by the cut plan, the face grain along each piece"),
            Item("saw", "Sawn outside the line, each with its code"),
            Item("stack", "Stacked by pattern, pinned or screwed where it is cut away"),
        )
    return (
        Item("ready", "The bit sharp, its bearing on the pattern, the pack clamped"),
        *(
            Item(f"pack-{n}", f"{one.name}: {count} {'pack' if count == 1 else 'packs'} of {size}")
            for n, (one, size, count) in enumerate(packs(task), 1)
        ),
    )


RECIPE = Recipe(
    "plywood",
    "pieces cut from plywood",
    "Nested on sheets by their grain, sawn, routed in packs to a pattern, marked.",
    Given,
    (Role("sheet", "Plywood", ("sheet",)),),
    steps,
    items=items,
    supplies=uses,
    stations=("bench",),
    shapes=("loft", "outline", "strips", "pieces"),
    wood=wood,
    asks=asks,
    pieces=pieces,
    cut_from="sheet",
)
