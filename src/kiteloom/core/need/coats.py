"""What coats take: by how far a litre goes, with what is lost on the way; wet and dry on the part."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from kiteloom.core.base.problems import between

#: What goes beside the part, of what is on it, and the minutes over a square metre, by how it is put on (common
#: practice).
BESIDE = {"brush": 0.08, "roller": 0.05, "spray gun": 0.35, "cans": 0.6}
MINUTES = {"brush": 9.0, "roller": 6.0, "spray gun": 4.0, "cans": 7.0}
#: Laying ready each coat; a gun or roller is cleaned after each besides, a can is not (common practice) [min].
READY_MIN, CLEAN_MIN = 20.0, {"brush": 10.0, "roller": 10.0, "spray gun": 25.0, "cans": 0.0}
#: What one can holds of paint (common practice) [l].
CAN_L = 0.25


@dataclass(frozen=True)
class Coating:
    """What is coated, and with what: m², coats, how far a litre goes in one coat, weight and solids of the paint."""

    area_m2: float
    count: int
    spread_m2_l: float
    density_g_ml: float
    solids: float | None
    lost: float = 0.0


def together(coatings: Sequence[Coating]) -> Coating:
    """Several parts coated alike, with the paint of the first.

    >>> together([Coating(2.0, 2, 10.0, 1.2, 0.5), Coating(0.5, 2, 10.0, 1.2, 0.5)]).area_m2
    2.5
    """
    return replace(coatings[0], area_m2=sum(one.area_m2 for one in coatings))


@dataclass(frozen=True)
class Way:
    """One way of putting coats on: what one pack holds [l] and costs, and what is bought besides once."""

    method: str
    pack_l: float
    price: float | None = None
    besides: float = 0.0


@dataclass(frozen=True)
class WayComes:
    """What a way comes to: packs, litres used, money, hours, grams dry on the part, and litres that go beside it."""

    way: Way
    packs: int
    litres: float
    cost: float | None
    hours: float
    dry_g: float | None
    beside_l: float


def compared(coating: Coating, ways: Sequence[Way]) -> tuple[WayComes, ...]:
    """The same coats put on in several ways.

    What is on the part is the same by all of them; what goes beside, what a pack holds and the hours differ.

    >>> small = Coating(2.0, 2, 10.0, 1.2, 0.5)
    >>> tin, cans = compared(small, [Way("spray gun", 0.946, 30.0, 60.0), Way("cans", 0.25, 9.0)])
    >>> (tin.packs, tin.cost), (cans.packs, cans.cost), round(tin.litres, 2), round(cans.litres, 2)
    ((1, 90.0), (3, 27.0), 0.54, 0.64)
    """
    found = []
    for way in ways:
        between("pack_l", way.pack_l, 0, 200, unit="l", name="what a pack holds", open_low=True)
        if way.price is not None:
            between("price", way.price, 0, 1e6, name="the price")
        between("besides", way.besides, 0, 1e6, name="what is bought besides")
        beside = BESIDE[way.method]
        on = coats(coating.area_m2, coating.count, coating.spread_m2_l, 0.0, coating.density_g_ml, coating.solids)
        # A can has no cup, and nothing stays in one.
        lost = 0.0 if way.method == "cans" else coating.lost
        litres = on.litres * (1 + beside) / (1 - lost)
        packs = math.ceil(litres / way.pack_l - 1e-9)
        minutes = coating.count * (READY_MIN + CLEAN_MIN[way.method] + MINUTES[way.method] * coating.area_m2)
        cost = None if way.price is None else packs * way.price + way.besides
        found.append(WayComes(way, packs, litres, cost, minutes / 60, on.dry_g, on.litres * beside))
    return tuple(found)


@dataclass(frozen=True)
class Coats:
    """What is mixed [l], and what is on the part wet and dry [g]; dry is None where its solids are not known."""

    litres: float
    wet_g: float
    dry_g: float | None


def coats(
    area_m2: float,
    count: int,
    spread_m2_l: float,
    lost: float,
    density_g_ml: float,
    solids: float | None = None,
) -> Coats:
    """So many coats on an area.

    Parameters
    ----------
    spread_m2_l : float
        How far a litre goes in one coat, on the part [m²/l].
    lost : float
        What goes beside it, of what is mixed [-].
    solids : float or None
        What is left when it is dry, by weight [-].

    >>> found = coats(2.0, 3, 10.0, 0.25, 1.2, 0.5)
    >>> round(found.litres, 6), round(found.wet_g, 6), round(found.dry_g, 6)
    (0.8, 720.0, 360.0)
    """
    between("area_m2", area_m2, 0, 10_000, unit="m²", name="the area")
    between("coats", count, 0, 50, name="the number of coats")
    between("spread_m2_l", spread_m2_l, 0, 1000, unit="m²/l", name="what a litre spreads over", open_low=True)
    between("loss_pct", 100 * lost, 0, 95, unit="%", name="the loss")
    between("density_g_ml", density_g_ml, 0.3, 4, unit="g/ml", name="the density")
    if solids is not None:
        between("solids_pct", 100 * solids, 0, 100, unit="%", name="what is left when it is dry")
    on_part_l = area_m2 * count / spread_m2_l
    wet_g = 1000 * density_g_ml * on_part_l
    return Coats(on_part_l / (1 - lost), wet_g, None if solids is None else wet_g * solids)
