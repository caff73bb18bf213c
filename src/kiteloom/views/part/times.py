"""When: a part's steps as the whole shop's plan has them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.air.part import moved
from kiteloom.core.base.calendar import minute_of, nights
from kiteloom.core.base.problems import between
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.input import TURN
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Unplaced
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.part.steps import StepView, step_view
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saying import Degrees, Span
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.batches import batches_on
from kiteloom.workshop.log.notes import standing_notes
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan, what_if

#: How far back and ahead of today a plan may start [days].
BACK_DAYS, AHEAD_DAYS = 400, 60


@dataclass(frozen=True)
class Left:
    """A step that can't be placed, and why; ``cold`` when another room, or a heater, may let it go.

    ``decide`` is where what holds it is decided: a part, and the tab of its page.
    """

    key: str
    name: str
    why: str
    job: str
    cold: bool
    decide: tuple[str, str] | None


@dataclass(frozen=True)
class TimesView:
    """A part in time. Without any temperature there is only ``ask``."""

    mirrored: list[str]
    start: datetime
    span: Span | None
    sentence: str
    temperature: str
    ask: str
    steps: list[StepView]
    left: list[Left]
    ribbon: list[Degrees]
    recorded_until: datetime | None
    min_c: float | None
    nights: list[Span]
    gone: list[str]


def times_view(uow: UnitOfWork, part_id: str, start: datetime | None, now: datetime) -> TimesView:
    """A part's steps; with a start, as if nothing of it could begin before."""
    part, today = uow.get(Part, part_id), minute_of(now)
    begin = minute_of(start) if start else today
    between("start", (begin - today) / 1440, -BACK_DAYS, AHEAD_DAYS, unit="days", name="the start, from today,")
    same = [
        s.name
        for s in uow.all(Part, Part.rank)
        if s.design_id == part.design_id and s.id != part.id and not s.hidden_at
    ]
    shop = shop_plan(uow, today)
    if shop is None:
        ask = need_temperature().sentence
        nothing = start or now
        return TimesView(
            same,
            nothing,
            None,
            "",
            "",
            ask,
            [],
            [],
            [],
            None,
            None,
            [],
            [],
        )
    built, say = shop.part(part_id), shop.saying
    if start is not None:
        shop = what_if(shop, held={step.key: begin for step in built.in_shop})
    mine = [placed for placed in shop.plan.placed if placed.step.part == part_id]
    order = {step.key: i for i, step in enumerate(built.in_shop)}
    known = [placed for placed in mine if placed.step.key in order]

    def rank(placed: Placed) -> float:
        # A turning has no place in the recipe: it stands after what is done before it.
        if placed.step.key in order:
            return order[placed.step.key]
        return max((order[p.step.key] for p in known if p.begins < placed.begins), default=-1) + 0.5

    mine.sort(key=rank)
    left = [left for left in shop.plan.unplaced if left.step.part == part_id]
    first = min([begin if start else today, *(p.start for p in mine)])
    last = max([today, *(p.ready or p.end for p in mine)]) + 6 * 60
    cures = [step.cure for step in built.steps if step.cure is not None]
    min_c = cures[0].min_c if cures else None
    sentence = ""
    if mine and not left:
        sentence = f"Done {say.at(max(p.ready or p.end for p in mine))}."
    if left:
        sentence = f"“{left[0].step.name}” can't be placed: {left[0].why}."
    coldest = min(
        (c for p in mine if p.cure and p.ready for _, c in shop.air_at(p).profile.between(p.begins, p.ready)),
        default=None,
    )
    if min_c is not None and coldest is not None and coldest < min_c:
        least, low = show(min_c, "temperature", say.units), show(coldest, "temperature", say.units)
        if low != least:
            sentence += f" The coldest hour of its cures is {low}; below {least} this product stands still."
    return TimesView(
        same,
        say.moment(begin),
        say.span((first, last)),
        sentence,
        f"Temperature {shop.air_of(part_id).words}.",
        "",
        [step_view(shop, placed) for placed in mine],
        [Left(u.step.in_part, u.step.name, u.why, u.step.job, shop.too_cold(u.step), _decided(shop, u)) for u in left],
        _where_it_is(shop, part_id, mine, left, first, last),
        say.perhaps(shop.air.known.recorded_until),
        min_c,
        [say.span(night) for night in nights(say.zone, first, last)],
        no_longer_built_so(uow, shop, built),
    )


def _decided(shop: ShopPlan, left: Unplaced) -> tuple[str, str] | None:
    return next(((one.part.id, one.tab) for one in shop.outside if one.why == left.why), None)


def no_longer_built_so(uow: UnitOfWork, shop: ShopPlan, part: BuiltPart) -> list[str]:
    """What was noted of steps this part does not have any more: work and batches, newest first, in words."""
    here = {step.key for step in part.steps}
    say, found = shop.saying, []
    for row in standing_notes(uow, part.id):
        if row.step_key not in here and not row.step_key.startswith(TURN):
            verb = {"start": "started", "pause": "paused", "finish": "finished"}[row.kind]
            found.append((row.happened_at, f"“{row.step_name}” {verb} {say.at(minute_of(row.happened_at))}"))
    for batch in batches_on(uow, part.id):
        if batch.step_key not in here:
            grams = show(batch.resin_g + batch.hardener_g, "mass", say.units)
            at = say.at(minute_of(batch.happened_at))
            found.append((batch.happened_at, f"{grams} of {batch.product} for “{batch.step_name}”, {at}"))
    return [words for _, words in sorted(found, reverse=True)]


def _where_it_is(
    shop: ShopPlan, part_id: str, mine: list[Placed], left: list[Unplaced], first: float, last: float
) -> list[Degrees]:
    """The temperature of a part: of the room of each step, and of the one the first that is held up waits in."""
    air = shop.air_of(part_id).profile
    rooms = [(p.begins, p.ready or p.end, p.air) for p in mine if p.air in shop.airs and p.air != part_id]
    if left:
        waits = shop.plan.airs.where(left[0].step)
        rooms += [(max([first, *(p.end for p in mine)]), last, waits)] if waits in shop.airs else []
    for start, end, room in sorted(rooms):
        air = moved([(start - 1, air), (start, shop.airs[room].profile), (end, air)])
    return [Degrees(shop.saying.moment(m), c) for m, c in _fewer(air.between(first, last))]


def ribbon_of(shop: ShopPlan, start: float, end: float, air: str) -> list[Degrees]:
    """The points of `thinned` in the shop's time: enough for any screen."""
    return [Degrees(shop.saying.moment(minute), celsius) for minute, celsius in thinned(shop, start, end, air)]


def thinned(shop: ShopPlan, start: float, end: float, air: str, most: int = 600) -> list[tuple[float, float]]:
    """So many points, or a few more, of an air's temperature by its name, ``""`` the main shop's [min, °C]."""
    return _fewer(shop.air_of(air).profile.between(start, end), most)


def _fewer(points: list[tuple[float, float]], most: int = 600) -> list[tuple[float, float]]:
    every = max(len(points) // most, 1)
    return points[::every] + ([points[-1]] if (len(points) - 1) % every else [])
