"""When: Today, the Loom, a part in time; who works here, what is wanted and awaited; plans accepted, on paper. Thin."""

from __future__ import annotations

from datetime import date, datetime

from flask import Response
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store
from kiteloom.api.log import OfStep
from kiteloom.core.base.calendar import minute_of
from kiteloom.views import crew, deliveries, loom, loom_step, paper, strip
from kiteloom.views.accepted_plan import PlacedAgain, accepted_file, placed_again
from kiteloom.views.part import times, ways
from kiteloom.views.today import today
from kiteloom.views.what_if import supposed
from kiteloom.workshop.base.saved import Kept, OnlyVersion
from kiteloom.workshop.base.shop import in_shop_zone
from kiteloom.workshop.plan import people, wanted
from kiteloom.workshop.plan.accepting import AcceptPlan, accept_plan
from kiteloom.workshop.plan.alerts import Heard, silence
from kiteloom.workshop.plan.learning import UseLearned, use_learned
from kiteloom.workshop.plan.ways import TakeWay, take_way

bp = Routes("plan", "Plan")


@bp.get("/today")
@bp.gives(today.TodayView)
def read_today() -> today.TodayView:
    """One sentence, the bench, what fits, what is held."""
    with store().reading() as uow:
        return today.today_view(uow, now())


@bp.get("/today/held")
@bp.gives(today.HeldView)
def read_held() -> today.HeldView:
    """What is held after those that stand on Today, and why."""
    with store().reading() as uow:
        return today.held_later(uow, now())


@bp.get("/weather")
@bp.gives(strip.WeatherView)
def read_weather() -> strip.WeatherView:
    """Temperature now and tonight, and what waits."""
    with store().reading() as uow:
        return strip.weather(uow, now())


@bp.post("/alerts/<int:alert_id>/silence")
@bp.gives(Heard)
def be_silent(alert_id: int) -> Heard:
    """Silence an alert; the row stays."""
    with store().writing() as uow:
        return silence(uow, alert_id, now())


class Stretch(BaseModel):
    """From when, how many days and of which airframe; from the next working day and of all where none is given.

    ``supposed`` is the plan of the last what-if over the plan there is.
    """

    start: datetime | None = None
    days: int = loom.DAYS
    by: loom.By = "part"
    compare: bool = False
    airframe: str = ""
    supposed: bool = False


@bp.get("/loom")
@bp.asks(Stretch)
@bp.gives(loom.LoomView)
def read_loom(asked: Stretch) -> loom.LoomView:
    """Every part's steps in time."""
    with store().reading() as uow:
        start = in_shop_zone(uow, asked.start, "start")
        if asked == Stretch():
            return loom.as_it_opens(uow, now())
        beside = supposed(store(), uow, now()) if asked.supposed else None
        return loom.loom_view(
            uow, start, asked.days, now(), asked.by, compare=asked.compare, airframe=asked.airframe, beside=beside
        )


@bp.get("/loom/step")
@bp.asks(OfStep)
@bp.gives(loom_step.PlannedStep | None)
def read_planned_step(asked: OfStep) -> loom_step.PlannedStep | None:
    """When, by whom, and why not sooner; nothing where the plan does not have it."""
    with store().reading() as uow:
        return loom_step.planned_step(uow, asked.part_id, asked.step_key, now())


class From(BaseModel):
    """When to start; now, when nothing is given. Without an offset it is the shop's time."""

    start: datetime | None = None


@bp.get("/parts/<part_id>/times")
@bp.asks(From)
@bp.gives(times.TimesView)
def read_times(part_id: str, asked: From) -> times.TimesView:
    """A part's steps in time."""
    with store().reading() as uow:
        return times.times_view(uow, part_id, in_shop_zone(uow, asked.start, "start"), now())


class Held(BaseModel):
    """The step that is held up."""

    step_key: str


@bp.get("/parts/<part_id>/ways")
@bp.asks(Held)
@bp.gives(ways.WaysView)
def read_ways(part_id: str, asked: Held) -> ways.WaysView:
    """How a step could go that the air holds up; nothing is kept."""
    with store().reading() as uow:
        return ways.ways_view(uow, part_id, asked.step_key, now())


@bp.post("/plan/ways")
@bp.takes(TakeWay)
@bp.gives(Kept, 201)
def take_a_way(order: TakeWay) -> Kept:
    """Heat a room, set a station up elsewhere, or move a part, so that a step can go."""
    with store().writing() as uow:
        take_way(uow, order, now())
    return Kept(order.id)


def _people() -> crew.PeopleView:
    with store().reading() as uow:
        return crew.people_view(uow, now())


@bp.get("/people")
@bp.gives(crew.PeopleView)
def read_people() -> crew.PeopleView:
    """Who works here, and where."""
    return _people()


@bp.post("/people")
@bp.takes(people.SavePerson)
@bp.gives(crew.PeopleView)
def save_person(order: people.SavePerson) -> crew.PeopleView:
    """Welcome somebody, or change what is known of them."""
    with store().writing() as uow:
        people.save_person(uow, order, now())
    return _people()


@bp.post("/people/<person_id>/farewell")
@bp.takes(OnlyVersion)
@bp.gives(crew.PeopleView)
def farewell(person_id: str, order: OnlyVersion) -> crew.PeopleView:
    """Somebody does not work here any more."""
    with store().writing() as uow:
        people.say_farewell(uow, person_id, order.version, now())
    return _people()


@bp.post("/absences")
@bp.takes(people.GoAway)
@bp.gives(crew.PeopleView, 201)
def go_away(order: people.GoAway) -> crew.PeopleView:
    """Somebody is away for a while."""
    with store().writing() as uow:
        people.go_away(uow, order, now())
    return _people()


@bp.post("/absences/<absence_id>/back")
@bp.gives(crew.PeopleView)
def come_back(absence_id: str) -> crew.PeopleView:
    """Somebody is here again."""
    with store().writing() as uow:
        people.come_back(uow, absence_id, now())
    return _people()


@bp.post("/stations/<station_id>/away")
@bp.takes(OnlyVersion)
@bp.gives(crew.PeopleView)
def put_station_away(station_id: str, order: OnlyVersion) -> crew.PeopleView:
    """A station is not here any more."""
    with store().writing() as uow:
        people.put_station_away(uow, station_id, order.version, now())
    return _people()


@bp.post("/stations")
@bp.takes(people.SaveStation)
@bp.gives(crew.PeopleView)
def save_station(order: people.SaveStation) -> crew.PeopleView:
    """Set a station up, or change it."""
    with store().writing() as uow:
        people.save_station(uow, order, now())
    return _people()


@bp.post("/pins")
@bp.takes(wanted.PinStep)
@bp.gives(Kept, 201)
def pin_step(order: wanted.PinStep) -> Kept:
    """Pin a step; the plan goes round it at once."""
    with store().writing() as uow:
        return wanted.pin_step(uow, order, now())


@bp.post("/plan/accept")
@bp.takes(AcceptPlan)
@bp.gives(Kept, 201)
def accept(order: AcceptPlan) -> Kept:
    """Accept the plan as it stands: what comes is compared with it."""
    return accept_plan(store(), order, now())


@bp.post("/plan/freeze")
@bp.takes(wanted.FreezeDays)
@bp.gives(Kept)
def freeze(order: wanted.FreezeDays) -> Kept:
    """Freeze the coming days."""
    with store().writing() as uow:
        return wanted.freeze(uow, order, now())


@bp.post("/plan/learned")
@bp.takes(UseLearned)
@bp.gives(Kept)
def plan_as_learned(order: UseLearned) -> Kept:
    """Plan with this shop's own hours, or with the recipes'."""
    with store().writing() as uow:
        return use_learned(uow, order, now())


@bp.get("/deliveries")
@bp.gives(deliveries.DeliveriesView)
def read_deliveries() -> deliveries.DeliveriesView:
    """What steps wait for, and what came."""
    with store().reading() as uow:
        return deliveries.DeliveriesView(wanted.deliveries(uow, now()))


@bp.post("/deliveries")
@bp.takes(wanted.ExpectDelivery)
@bp.gives(Kept)
def expect(order: wanted.ExpectDelivery) -> Kept:
    """Say what a step waits for."""
    with store().writing() as uow:
        return wanted.expect(uow, order, now())


@bp.post("/deliveries/<delivery_id>")
@bp.takes(wanted.TellDelivery)
@bp.gives(Kept)
def tell_delivery(delivery_id: str, order: wanted.TellDelivery) -> Kept:
    """It came; or it is not awaited any more."""
    with store().writing() as uow:
        return wanted.tell_delivery(uow, delivery_id, order, now())


@bp.get("/plan/accepted")
@bp.gives(PlacedAgain)
def read_accepted() -> PlacedAgain:
    """Whether the accepted plan is the same to the minute when it is placed again."""
    with store().reading() as uow:
        return placed_again(uow, minute_of(now()))


@bp.get("/plan/accepted.json")
def accepted_plan_file() -> Response:
    """The accepted plan, with all it was made from."""
    with store().reading() as uow:
        return file(accepted_file(uow), "application/json", "accepted-plan.json", save=True)


class Week(BaseModel):
    """The first day; today when none is given."""

    start: date | None = None


@bp.get("/plan/week.pdf")
@bp.asks(Week)
def week_sheet(asked: Week) -> Response:
    """A week's sheet, as PDF."""
    with store().reading() as uow:
        return file(paper.week_of(uow, asked.start, now()), "application/pdf", "week.pdf")


@bp.get("/plan.ics")
def plan_calendar() -> Response:
    """What is to come, as a calendar; its ids stay, so that a calendar that asks again moves its events."""
    with store().reading() as uow:
        return file(paper.calendar_of(uow, now()), "text/calendar; charset=utf-8", "plan.ics")


@bp.get("/plan.csv")
def plan_table() -> Response:
    """The whole plan as a table."""
    with store().reading() as uow:
        return file(paper.csv_of(uow, now()), "text/csv; charset=utf-8", "plan.csv", save=True)
