"""What is asked of a ply book with zones: steep drop-offs, zones out of balance, a core's bare edge.

Asked, never forbidden: the schedule belongs to the designer.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from shapely import difference, intersection, union_all

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.laminate.cover import Cover, Region
from kiteloom.core.laminate.stack import ply_figures
from kiteloom.core.laminate.zones import METALS
from kiteloom.core.shape.skin import Skin

#: Where plies end one after the other, each lies so many of its thicknesses short of the next (common practice) [-].
TAPER = 20.0
#: So far plies reach over a core's edge that lies inside the part (common practice) [m].
OVER_CORE_M = 0.015
#: So far plies reach over a hard point's edge all round (common practice) [m].
OVER_INSERT_M = 0.025
#: Less than this of a core bare is where two edges nearly meet [-].
_BARE = 1e-4
#: An edge shorter than this is a corner [m].
_CORNER_M = 0.005


def doubts(cover: Cover, regions: Iterable[Region], resin_density_g_cm3: float, units: UnitSystem) -> tuple[str, ...]:
    """Each question in a sentence.

    >>> from kiteloom.core.laminate.cover import cover_of
    >>> from kiteloom.core.laminate.stack import Stack
    >>> from kiteloom.core.laminate.zones import Band, Zone
    >>> plies = (SANDWICH.plies[0], *(replace(SANDWICH.plies[0], zone="root"),) * 2)
    >>> cover = cover_of(Stack(plies, zones=(Zone("root", Band(0, 1)),)), skin_of(PLANK, "upper"))
    >>> doubts(cover, cover.regions(1.15), 1.15, "metric")[0][:62]
    'Plies 2 and 3 end at the same edge of “root”: at 1 in 20 each '
    """
    found = [*_steep(cover, resin_density_g_cm3, units), *_bare_core(cover, units), *_hard_points(cover, units)]
    for region in regions:
        where = " and ".join(f"“{name}”" for name in region.zones)
        if where and not region.balanced:
            found.append(f"Where {where} lies, {region.code} is not balanced in ±θ: it twists when pulled.")
    return tuple(found)


def _steep(cover: Cover, density: float, units: UnitSystem) -> list[str]:
    stack, found = cover.stack, []
    for zone in stack.zones:
        mine = [(n, ply) for n, ply in enumerate(stack.plies, 1) if ply.zone == zone.name]
        if len(mine) < 2 or not _inner_edge(cover.skin, cover, zone.name):
            continue
        wanted = math.ceil(TAPER * max(ply_figures(ply.cloth, density).thickness_mm for _, ply in mine))
        step = abs(zone.step_m) * 1000
        if step < wanted:
            plies = ", ".join(str(n) for n, _ in mine[:-1]) + f" and {mine[-1][0]}"
            at = "at the same edge" if step == 0 else f"{show(step, 'step', units)} apart at the edge"
            rule = f"at 1 in {TAPER:.0f} each would end {show(wanted, 'step', units)} short of the next"
            found.append(f"Plies {plies} end {at} of “{zone.name}”: {rule}.")
    return found


def _inner_edge(skin: Skin, cover: Cover, name: str) -> bool:
    edge = difference(cover.zones[name].boundary, skin.whole.boundary.buffer(1e-6))
    return bool(edge.length > _CORNER_M)


def _hard_points(cover: Cover, units: UnitSystem) -> list[str]:
    """Hard points that plies do not cover with their overlap, or on which carbon lies."""
    stack, found = cover.stack, []
    outer = len(stack.outside)
    for zone in stack.hard:
        lies = cover.inserts[zone.name]
        if lies.is_empty:
            found.append(f"{zone.words}: the core does not reach it, so nothing is let into it there.")
            continue
        reach = intersection(lies.buffer(OVER_INSERT_M, join_style="mitre"), cover.skin.whole)
        for side, plies in (("outside", range(outer)), ("inside", range(outer, len(stack.plies)))):
            over = [n for n in plies if difference(reach, cover.plies[n]).area <= _BARE * reach.area]
            if not over:
                by = show(OVER_INSERT_M * 1000, "step", units)
                found.append(f"{zone.words}: no ply {side} covers it and {by} around it.")
            # The ply that lies on it: the last one laid outside, the first one inside.
            on = [n for n in plies if intersection(cover.plies[n], lies).area > _BARE * lies.area]
            touching = (on[-1] if side == "outside" else on[0]) if on else None
            if touching is not None and zone.insert in METALS and stack.plies[touching].cloth.carbon:
                found.append(
                    f"{zone.words}: ply {touching + 1} is carbon and lies on it; a glass ply between keeps "
                    f"{zone.insert} from corroding."
                )
    return found


def _bare_core(cover: Cover, units: UnitSystem) -> list[str]:
    stack, core = cover.stack, cover.core
    if core is None:
        return []
    outer, over = len(stack.outside), show(OVER_CORE_M * 1000, "step", units)
    core = union_all([core, *cover.inserts.values()])
    reach = intersection(core.buffer(OVER_CORE_M, join_style="mitre"), cover.skin.whole) if stack.core_zone else core
    found = []
    for side, plies in (("outside", range(outer)), ("inside", range(outer, len(stack.plies)))):
        bare = difference(reach, cover.under(tuple(plies))) if plies else core
        if bare.area > _BARE * core.area:
            found.append(
                f"Plies {side} the core do not cover all of it and its edge: they usually reach {over} over it."
            )
    return found
