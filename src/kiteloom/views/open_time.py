"""That a step outlasts its first mix, in words."""

from __future__ import annotations

from kiteloom.core.base.quantities import show
from kiteloom.core.plan.open_time import too_long
from kiteloom.core.plan.placed import Placed
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.plan.plan import ShopPlan


def open_words(shop: ShopPlan, placed: Placed) -> str:
    """That a step outlasts its first mix, and what would help; ``""`` where it is in time."""
    found = too_long(shop.plan, placed)
    if found is None:
        return ""
    say, ways = shop.saying, []
    if found.people is not None:
        ways.append(f"{found.people} people")
    if found.below_c is not None:
        ways.append(f"air below {show(found.below_c, 'temperature', say.units)}")
    ways += ["a smaller stretch at a time", "a slower hardener"]
    return (
        f"Too long for its first mix: begun {say.at(placed.begins)}, that comes to “{found.stage}” "
        f"{say.at(found.at, placed.begins)}, and the work ends {say.at(placed.end, placed.begins)}. "
        f"What would help: {joined(ways, 'or')}."
    )
