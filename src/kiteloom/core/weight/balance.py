"""Weights at their places → total, centre of gravity, and a control surface's balance about its hinge.

Flutter limits, and how much of its moment a control surface must have balanced, belong to its designer.

References
----------
FAA-H-8083-1, the moment method: centre of gravity = Σ moments ÷ Σ weights (from memory).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between, plain

#: Nothing that is weighed here is heavier [g].
MOST_G = 10_000_000.0
#: Nothing lies farther away [mm].
FAR_MM = 100_000.0


@dataclass(frozen=True)
class Weight:
    """Something that weighs, and where: x aft and y to the side of the datum [mm]."""

    name: str
    grams: float
    x_mm: float
    y_mm: float = 0.0


@dataclass(frozen=True)
class Balance:
    """A total, its centre of gravity and its moment about the datum."""

    grams: float
    x_mm: float
    y_mm: float
    moment_g_mm: float


def balance_of(weights: Sequence[Weight]) -> Balance:
    """Total, centre of gravity and moment.

    Raises
    ------
    Refused
        For a negative weight, a place out of reach, or nothing that weighs.

    >>> balance_of([Weight("skin", 300, 100), Weight("spar", 100, 20)])
    Balance(grams=400.0, x_mm=80.0, y_mm=0.0, moment_g_mm=32000.0)
    """
    for n, one in enumerate(weights):
        between(f"items.{n}.grams", one.grams, 0, MOST_G, unit="g", name=f"the weight of “{one.name}”")
        for axis, place in (("x_mm", one.x_mm), ("y_mm", one.y_mm)):
            between(f"items.{n}.{axis}", place, -FAR_MM, FAR_MM, unit="mm", name=f"the place of “{one.name}”")
    total = float(sum(one.grams for one in weights))
    if total <= 0:
        raise Refused("items", f"all of it weighs {plain(total)} g; a centre of gravity wants some weight")
    moment, aside = sum(one.grams * one.x_mm for one in weights), sum(one.grams * one.y_mm for one in weights)
    return Balance(total, moment / total, aside / total, float(moment))


def hinge_moment(balance: Balance, hinge_x_mm: float) -> float:
    """Moment about a hinge, positive where it is tail heavy [g·mm].

    >>> hinge_moment(balance_of([Weight("aileron", 900, 62)]), 40)
    19800.0
    """
    between("hinge_x_mm", hinge_x_mm, -FAR_MM, FAR_MM, unit="mm", name="the place of the hinge")
    return balance.moment_g_mm - balance.grams * hinge_x_mm


def balance_weight(balance: Balance, hinge_x_mm: float, at_x_mm: float, wanted_pct: float = 100.0) -> float:
    """The weight at a place ahead of the hinge that takes a share of the moment away [g]; 0 where it is nose heavy.

    Raises
    ------
    Refused
        If it would not stand ahead of the hinge.

    >>> balance_weight(balance_of([Weight("aileron", 900, 62)]), 40, -30)
    282.85714285714283
    """
    between("balance.wanted_pct", wanted_pct, 0, 200, unit="%", name="the share that is balanced")
    between("balance.x_mm", at_x_mm, -FAR_MM, FAR_MM, unit="mm", name="the place of the balance weight")
    if at_x_mm >= hinge_x_mm:
        raise Refused(
            "balance.x_mm",
            f"the balance weight stands at {plain(at_x_mm)} mm, the hinge at {plain(hinge_x_mm)} mm; "
            "it must stand ahead of the hinge",
        )
    tail_heavy = max(hinge_moment(balance, hinge_x_mm), 0.0)
    return tail_heavy * wanted_pct / 100 / (hinge_x_mm - at_x_mm)
