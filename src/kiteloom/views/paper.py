"""The plan for paper, calendars and tables."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from kiteloom.core.base.calendar import day_words, local_midnight, minute_of, time_words, when
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import system_of
from kiteloom.formats.plan_files import Line, plan_csv, plan_ics, week_pdf
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.against_accepted import headline
from kiteloom.views.part.steps import words_of
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.shop import the_shop
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


def _planned(uow: UnitOfWork, now: datetime) -> ShopPlan:
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    return shop


def _lines(shop: ShopPlan, *, done: bool) -> list[Line]:
    """Every stretch of work still to come, and what was done where asked for, in order of time."""
    found = []
    for p in shop.plan.placed:
        if p.state == "done" and not done:
            continue
        pieces = p.pieces if done else p.pieces[p.worked :]
        for start, end in pieces:
            found.append(
                Line(
                    p.step.key,
                    p.step.name,
                    shop.names.get(p.step.part, ""),
                    shop.saying.moment(start),
                    shop.saying.moment(end),
                    tuple(shop.names.get(person, person) for person in p.people),
                    tuple(shop.names.get(station, station) for station in p.step.stations),
                    shop.saying.perhaps(p.ready) if p.step.wait_stage else None,
                    p.step.wait_stage or "",
                    words_of(shop, p),
                    p.step.caution_in(shop.saying.units),
                    p.state,
                )
            )
    return sorted(found, key=lambda line: line.start)


def csv_of(uow: UnitOfWork, now: datetime) -> str:
    """The whole plan, what was done too, as a table."""
    return plan_csv(_lines(_planned(uow, now), done=True))


def calendar_of(uow: UnitOfWork, now: datetime) -> bytes:
    """What is still to come, as a calendar."""
    return plan_ics(_lines(_planned(uow, now), done=False), the_shop(uow).name or "Kite Loom", now)


def week_of(uow: UnitOfWork, first: date | None, now: datetime) -> bytes:
    """Seven days on paper, from a day or from today."""
    shop = _planned(uow, now)
    say = shop.saying
    today = say.moment(local_midnight(shop.now, say.zone)).date()
    first = first or today
    if abs((first - today).days) > 730:
        raise Refused("start", f"the week of {first} is more than 730 days from today; choose a nearer one")
    lines = sorted([*_lines(shop, done=False), *_checks(shop)], key=lambda line: line.start)
    days = [first + timedelta(days=n) for n in range(7)]
    made = f"As planned {when(shop.now, say.zone)}; the plan moves with the shop's temperature."
    sentence = f"{headline(shop)} {made}"
    title = f"{the_shop(uow).name or 'The shop'}: week of {day_words(first, say.zone, full=True, year=True)}"
    by_day = [
        (f"{day:%A} {day_words(day, say.zone, full=True)}", [line for line in lines if line.start.date() == day])
        for day in days
    ]
    return week_pdf(by_day, title, sentence, letter=system_of(say.units) == "us")


def _checks(shop: ShopPlan) -> list[Line]:
    """A line for each witness to be read: when from, by whom who goes on with the part, and where it lies."""
    say, found = shop.saying, []
    for placed in shop.plan.placed:
        release = shop.releases.get(placed.step.key)
        if placed.ready is None or not placed.step.wait_stage or (release is not None and release.released):
            continue
        after = [p for p in shop.plan.placed if any(link.step == placed.step.key for link in p.step.after)]
        if any(p.state != "to do" for p in after):
            continue
        overdue = placed.ready <= shop.now
        at = say.moment(max(placed.ready, shop.now))
        people = min(after, key=lambda p: p.begins).people if after else placed.people
        where = placed.step.stations if placed.step.holds else ()
        found.append(
            Line(
                placed.step.key,
                f"Read the witness for “{placed.step.wait_stage}”: {placed.step.name}",
                shop.names.get(placed.step.part, ""),
                at,
                at,
                tuple(shop.names.get(person, person) for person in people),
                tuple(shop.names.get(station, station) for station in where),
                None,
                "",
                f"since {say.at(placed.ready)}" if overdue else f"from {time_words(at)}",
                "",
            )
        )
    return found
