"""What a step uses up besides its mixes: cloth, core, and the things nobody counts until they are missing.

How much is laid over the edge, what pleats take, and what a pair of hands gets through are common practice.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.need.coats import coats
from kiteloom.core.need.resin import Losses
from kiteloom.core.stores.materials import Cloth, CoreSheet, ResinSheet

#: Sealant tape goes up and down each pleat of a bag (common practice) [-].
PLEATS = 1.25
#: Tacky tape holds dry cloth, films and lines where they lie, here and there all round (common practice) [-].
TACKED = 0.2
#: Coats of release wax before the first part from a mould (common practice).
WAX_COATS = 5
#: What one cup holds, one with the next (common practice) [g].
CUP_G = 300.0
#: Pairs of gloves somebody gets through in one wet step (common practice).
GLOVES = 2

Kind = Literal["area", "run", "count", "volume"]


@dataclass(frozen=True)
class Supply:
    """So much of a thing used up in a step: in m², m, pieces or ml. ``rule`` is how it was reckoned, in words."""

    step: str
    name: str
    amount: float
    kind: Kind
    rule: str
    also: tuple[Given, ...] = ()
    """What else the rule rests on."""


def cloth(step: str, of: Cloth, covers_m2: float, losses: Losses) -> tuple[Supply, ...]:
    """The cloth of a ply, and how far it takes the roll where its width is known.

    >>> [(one.name, round(one.amount, 3), one.kind) for one in cloth("layup", GLASS, 2.0, Losses())]
    [('twill', 2.16, 'area')]
    """
    whole = covers_m2 * (1 + losses.trim_pct / 100)
    cut = Given("cut off", losses.trim_pct, "share")
    found = [Supply(step, of.name, whole, "area", "what its plies cover × (1 + cut off)", (cut,))]
    if of.roll_width_m:
        off = "its area ÷ the roll's width; more where pieces do not nest"
        width = Given("roll width", of.roll_width_m, "length")
        found.append(Supply(step, f"{of.name}, off the roll", whole / of.roll_width_m, "run", off, (width,)))
    return tuple(found)


def core(step: str, of: CoreSheet, covers_m2: float, losses: Losses) -> tuple[Supply, ...]:
    """The foam of a core, and how many sheets where their size is known.

    >>> [(one.name, round(one.amount, 2)) for one in core("bed", FOAM, 2.0, Losses())]
    [('foam', 2.16)]
    """
    whole = covers_m2 * (1 + losses.trim_pct / 100)
    cut = Given("cut off", losses.trim_pct, "share")
    found = [Supply(step, of.name, whole, "area", "what it covers × (1 + cut off)", (cut,))]
    if of.sheet_m2:
        sheets = math.ceil(whole / of.sheet_m2 - 1e-9)
        size = Given("one sheet", of.sheet_m2, "area")
        found.append(
            Supply(step, f"{of.name}, sheets", sheets, "count", "its area ÷ that of a sheet, whole ones", (size,))
        )
    return tuple(found)


def bagged(step: str, under_m2: float, around_m: float, losses: Losses, *, bled: bool = True) -> tuple[Supply, ...]:
    """What goes on a layup under a bag; what is only pressed has no peel ply, and a film without holes.

    >>> [(one.name, round(one.amount, 1)) for one in bagged("layup", 2.0, 6.0, Losses())][:2]
    [('peel ply', 2.2), ('release film with holes', 2.2)]
    """
    bag, pleats = 1 + losses.bag_pct / 100, Given("for its pleats", losses.bag_pct, "share")
    names = ("peel ply", "release film with holes", "breather") if bled else ("release film, solid", "breather")
    return (
        *(_over_edge(step, name, under_m2, losses) for name in names),
        Supply(step, "bag film", under_m2 * bag, "area", "what lies under it × (1 + for its pleats)", (pleats,)),
        Supply(step, "sealant tape", around_m * PLEATS, "run", f"all round × {PLEATS:g} for the pleats"),
        Supply(step, "tacky tape", around_m * TACKED, "run", f"all round × {TACKED:g}, a hand’s length each metre"),
    )


def by_hand(step: str, under_m2: float, losses: Losses) -> tuple[Supply, ...]:
    """What goes on a layup without a bag.

    >>> [one.name for one in by_hand("layup", 2.0, Losses())]
    ['peel ply']
    """
    return (_over_edge(step, "peel ply", under_m2, losses),)


def _over_edge(step: str, name: str, under_m2: float, losses: Losses) -> Supply:
    over = Given("over the edge", losses.sheet_pct, "share")
    rule = "what lies under it × (1 + over the edge)"
    return Supply(step, name, under_m2 * (1 + losses.sheet_pct / 100), "area", rule, (over,))


def waxed(step: str, area_m2: float) -> tuple[Supply, ...]:
    """The wax of a mould, all its coats together.

    >>> waxed("prepare", 2.0)[0].amount
    10.0
    """
    rule = f"the mould × {WAX_COATS} coats; so far a coat goes is on its tin"
    return (Supply(step, "release wax, coats", area_m2 * WAX_COATS, "area", rule),)


def at_hand(step: str, people: int, mixed_g: float) -> tuple[Supply, ...]:
    """What hands get through in a step with an open mix.

    >>> [(one.name, one.amount) for one in at_hand("layup", 3, 700.0)]
    [('cups', 3), ('brushes', 3), ('gloves, pairs', 6)]
    """
    hands = max(people, 1)
    found = [
        Supply(step, "brushes", hands, "count", "one for each pair of hands"),
        Supply(step, "gloves, pairs", hands * GLOVES, "count", f"{GLOVES} pairs for each pair of hands"),
    ]
    if mixed_g > 0:
        cups = math.ceil(mixed_g / CUP_G - 1e-9)
        holds = Given("a cup holds", CUP_G, "mass", assumed=True)
        found.insert(0, Supply(step, "cups", cups, "count", "what is mixed ÷ what a cup holds", (holds,)))
    return tuple(found)


def brushed(
    step: str, product: ResinSheet, area_m2: float, losses: Losses, beside: float = 0.0, of: str = "its skin"
) -> tuple[Supply, ...]:
    """What a coat of something ready in one part takes [ml]; nothing where its sheet does not say how far a litre goes.

    Parameters
    ----------
    beside : float
        What goes beside it, of what is on it [-].

    >>> paint = replace(product(EPOXY), parts=None, spread_m2_l=10.0)
    >>> round(brushed("coat", paint, 2.0, Losses(cup_pct=5), 0.35)[0].amount)
    284
    """
    if product.spread_m2_l is None:
        return ()
    litres = coats(area_m2 * (1 + beside), 1, product.spread_m2_l, losses.cup_pct / 100, 1.0).litres
    by = [Given(of, area_m2, "area"), Given("left in cups and tools", losses.cup_pct, "share")]
    rule = f"{of} ÷ what a litre spreads over ÷ (1 − left in cups and tools)"
    if beside:
        by.append(Given("beside the part", 100 * beside, "share", assumed=True))
        rule += " × (1 + beside the part)"
    return (Supply(step, product.name, 1000 * litres, "volume", rule, tuple(by)),)


def supply_figures(supplies: Iterable[tuple[str, Supply]]) -> tuple[Figure, ...]:
    """Each thing once with what is used up of it in all; from what: the share of each step, or part, by its name.

    >>> rows = [(name, one) for name, people in (("Lay it", 3), ("Bed it", 2)) for one in at_hand(name, people, 0)]
    >>> [(figure.label, figure.value) for figure in supply_figures(rows)]
    [('brushes', 5.0), ('gloves, pairs', 10.0)]
    """
    shares: dict[tuple[str, Kind], dict[str, float]] = {}
    rules: dict[tuple[str, Kind], str] = {}
    also: dict[tuple[str, Kind], dict[Given, None]] = {}
    for who, supply in supplies:
        key = (supply.name, supply.kind)
        rules.setdefault(key, supply.rule)
        also.setdefault(key, {}).update(dict.fromkeys(supply.also))
        mine = shares.setdefault(key, {})
        mine[who] = mine.get(who, 0.0) + supply.amount
    return tuple(
        Figure(
            f"supply:{name}",
            name,
            sum(mine.values()),
            kind,
            f"sum of {rules[name, kind]}",
            (*(Given(who, amount, kind, assumed=True) for who, amount in mine.items()), *also[name, kind]),
            "Common practice; what your shop uses up may differ.",
        )
        for (name, kind), mine in shares.items()
    )
