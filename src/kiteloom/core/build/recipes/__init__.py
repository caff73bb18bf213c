"""The ways of building there are: one module each, and one line here."""

from __future__ import annotations

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.recipes import (
    cover,
    fill_fair,
    foam_core,
    hinge_balance,
    paint,
    paste_bond,
    patch,
    plywood,
    prime,
    restick,
    sandwich_skin,
    spar_cap,
    sticks,
    tank,
    varnish,
    wood_frame,
    wrap,
)

RECIPES: tuple[Recipe, ...] = (
    sandwich_skin.RECIPE,
    foam_core.RECIPE,
    spar_cap.RECIPE,
    plywood.RECIPE,
    sticks.RECIPE,
    wood_frame.RECIPE,
    paste_bond.RECIPE,
    varnish.RECIPE,
    fill_fair.RECIPE,
    prime.RECIPE,
    paint.RECIPE,
    patch.RECIPE,
    cover.RECIPE,
    wrap.RECIPE,
    restick.RECIPE,
    tank.RECIPE,
    hinge_balance.RECIPE,
)
#: The kinds of place and device that recipes ask for.
STATION_KINDS: tuple[str, ...] = tuple(dict.fromkeys(kind for recipe in RECIPES for kind in recipe.stations))
_BY_KEY = {recipe.key: recipe for recipe in RECIPES}


def recipe_of(key: str) -> Recipe:
    """The way of building of a key; `Refused` for one there is not.

    >>> recipe_of("prime").name
    'priming'
    """
    if key not in _BY_KEY:
        names = ", ".join(recipe.name for recipe in RECIPES)
        raise Refused("recipe", f"“{key[:40]}” is not a way of building here; they are {names}")
    return _BY_KEY[key]
