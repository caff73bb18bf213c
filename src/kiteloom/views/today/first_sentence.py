"""The sentence Today begins with, and what stands under it."""

from __future__ import annotations

from kiteloom.core.base.quantities import show
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.today import (
    first_thing,
    way_is_free,
)
from kiteloom.views.actions import Action, actions_of, to_start, why_held
from kiteloom.views.open_time import open_words
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.plan.plan import ShopPlan


def first_words(shop: ShopPlan, *, is_open: bool, opens: float | None) -> tuple[str, str, str, list[Action]]:
    """The sentence, what stands under it, the caution, and the buttons."""
    thing, say = first_thing(shop.plan, shop.now, is_open=is_open), shop.saying
    placed = thing.placed
    if placed is None:
        if shop.plan.unplaced:
            left = shop.plan.unplaced[0]
            where = shop.names[left.step.part]
            return f"“{left.step.name}” can't be planned: {left.why}.", where, "", []
        return "Everything is done.", "No step of any part is left.", "", []
    where, name = shop.names[placed.step.part], placed.step.name
    caution = placed.step.caution_in(say.units)
    if thing.kind == "finish":
        since = say.at(placed.pieces[-1][0])
        return (
            f"{name}: {where}.",
            f"Being worked on since {since}. {_crew(shop, placed)}",
            caution,
            actions_of(shop, placed),
        )
    if thing.kind == "start":
        since = _ready_since(shop, placed)
        first = f"{name}: {where}{since}."
        detail = " ".join(
            words for words in (_crew(shop, placed), _then(shop, placed), open_words(shop, placed)) if words
        )
        return first, detail, caution, actions_of(shop, placed)
    at = placed.begins
    if not is_open and opens is not None and at <= opens + 5:
        # Who comes in after hours all the same may begin.
        anyway = [to_start(shop, placed, "Start anyway")] if way_is_free(shop.plan, placed, shop.now) else []
        return f"Closed until {say.at(opens)}. Then: {name}, {where}.", _crew(shop, placed), caution, anyway
    running = why_held(shop, placed)
    return f"Next, {say.at(at)}: {name}, {where}.", running, "", []


def _ready_since(shop: ShopPlan, placed: Placed) -> str:
    """The latest cure that let it go, when it has: ": ready since 06:40"."""
    by_key = shop.plan.by_key
    events = [
        event
        for link in placed.step.after
        if (before := by_key.get(link.step)) and before.cure and (event := shop.plan.event(before, link.until))
    ]
    if not events or max(events) > shop.now:
        return ""
    verb = "to be checked" if shop.unreleased(placed.step) else "ready"
    return f", {verb} since {shop.saying.at(max(events))}"


def _crew(shop: ShopPlan, placed: Placed) -> str:
    step = placed.step
    who = [shop.names.get(person, person) for person in placed.people]
    worked = shop.fact(step.key)
    left = step.length - (worked.worked_min if worked else 0)
    if placed.state == "running":
        left = placed.end - shop.now
    length = f"about {shop.saying.lasting(max(left, 5))}" + (
        " left" if (worked and worked.pieces) or placed.state == "running" else ""
    )
    people = f"{step.people} people" if step.people != 1 else "1 person"
    return f"{joined(who)}, {length}." if who else f"{people}, {length}."


def _then(shop: ShopPlan, placed: Placed) -> str:
    """What waits after it."""
    if placed.step.wait_stage is None or placed.ready is None:
        return ""
    grams = shop.left_g(placed.step.key)
    product = shop.parts[placed.step.part].product_of(placed.step.in_part)[1]
    resin = f"It takes {show(grams, 'mass', shop.saying.units)} of {product}. " if grams > 0 else ""
    return f"{resin}Then check for “{placed.step.wait_stage}” from {shop.saying.at(placed.ready)}."
