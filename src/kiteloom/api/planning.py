"""Who works here, what is wanted when, what is awaited; plans accepted and written out. Thin."""

from __future__ import annotations

from datetime import date, datetime

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel, Field, RootModel

from kiteloom.api.house import now, store
from kiteloom.views import crew, deliveries, paper
from kiteloom.views.part import run_sheet
from kiteloom.workshop.base import saved, shop
from kiteloom.workshop.log import ticks
from kiteloom.workshop.plan import accepting, learning, people, wanted

bp = APIBlueprint("planning", __name__, url_prefix="/api/v1", tag="Planning")


class PeopleOut(RootModel[crew.PeopleView]):
    """Everybody and every place."""


class PlanKeptOut(RootModel[saved.Kept]):
    """That it was kept."""


class DeliveriesOut(RootModel[deliveries.DeliveriesView]):
    """What steps wait for."""


@bp.get("/people")
@bp.output(PeopleOut)
def read_people() -> crew.PeopleView:
    """Who works here, and where."""
    with store().reading() as uow:
        return crew.people_view(uow, now())


class OwnHoursIn(BaseModel):
    """Hours of one weekday (0 is Monday)."""

    weekday: int
    opens: str
    closes: str


class PersonIn(BaseModel):
    """Somebody as typed; version 0 welcomes them."""

    id: str
    version: int = 0
    name: str
    skills: list[str] = []
    hours: list[OwnHoursIn] = []


@bp.post("/people")
@bp.input(PersonIn)
@bp.output(PeopleOut)
def save_person(json_data: PersonIn) -> crew.PeopleView:
    """Welcome somebody, or change what is known of them."""
    hours = [shop.DayHours(h.weekday, h.opens, h.closes) for h in json_data.hours]
    order = people.SavePerson(json_data.id, json_data.version, json_data.name, json_data.skills, hours)
    with store().writing() as uow:
        people.save_person(uow, order, now())
    with store().reading() as uow:
        return crew.people_view(uow, now())


class VersionIn(BaseModel):
    """The version a page had read."""

    version: int


@bp.post("/people/<person_id>/farewell")
@bp.input(VersionIn)
@bp.output(PeopleOut)
def farewell(person_id: str, json_data: VersionIn) -> crew.PeopleView:
    """Somebody does not work here any more."""
    with store().writing() as uow:
        people.say_farewell(uow, person_id, json_data.version, now())
    with store().reading() as uow:
        return crew.people_view(uow, now())


class AwayIn(BaseModel):
    """An absence; without times it is the rest of today. The client makes the id."""

    id: str
    crew_member_id: str
    start: datetime | None = None
    end: datetime | None = None
    note: str = ""


@bp.post("/absences")
@bp.input(AwayIn)
@bp.output(PeopleOut, status_code=201)
def go_away(json_data: AwayIn) -> crew.PeopleView:
    """Somebody is away for a while."""
    with store().writing() as uow:
        given = json_data.model_dump()
        given["start"], given["end"] = (shop.in_shop_zone(uow, t) for t in (json_data.start, json_data.end))
        people.go_away(uow, people.GoAway(**given), now())
    with store().reading() as uow:
        return crew.people_view(uow, now())


@bp.post("/absences/<absence_id>/back")
@bp.output(PeopleOut)
def come_back(absence_id: str) -> crew.PeopleView:
    """Somebody is here again."""
    with store().writing() as uow:
        people.come_back(uow, absence_id, now())
    with store().reading() as uow:
        return crew.people_view(uow, now())


class StationAtIn(BaseModel):
    """A station as typed; version 0 adds it."""

    id: str
    version: int = 0
    name: str
    capacity: int
    zone_id: str = ""
    serves: list[str] = []


@bp.post("/stations")
@bp.input(StationAtIn)
@bp.output(PeopleOut)
def save_station(json_data: StationAtIn) -> crew.PeopleView:
    """Set a station up, or change it."""
    with store().writing() as uow:
        people.save_station(uow, people.SaveStation(**json_data.model_dump()), now())
    with store().reading() as uow:
        return crew.people_view(uow, now())


class PinIn(BaseModel):
    """When a step is wanted, and by whom; without a time its pin is taken out. The client makes the id."""

    id: str
    part_id: str
    step_key: str
    start: datetime | None = None
    crew: list[str] = []


@bp.post("/pins")
@bp.input(PinIn)
@bp.output(PlanKeptOut, status_code=201)
def pin_step(json_data: PinIn) -> saved.Kept:
    """Pin a step; the plan goes round it at once."""
    with store().writing() as uow:
        start = shop.in_shop_zone(uow, json_data.start)
        order = wanted.PinStep(json_data.id, json_data.part_id, json_data.step_key, start, tuple(json_data.crew))
        return wanted.pin_step(uow, order, now())


class AcceptIn(BaseModel):
    """The client makes the id."""

    id: str


@bp.post("/plan/accept")
@bp.input(AcceptIn)
@bp.output(PlanKeptOut, status_code=201)
def accept(json_data: AcceptIn) -> saved.Kept:
    """Accept the plan as it stands: what comes is compared with it."""
    return accepting.accept_plan(store(), json_data.id, now())


class FreezeIn(BaseModel):
    """How many of the coming days are kept as the accepted plan has them."""

    version: int
    days: int


@bp.post("/plan/freeze")
@bp.input(FreezeIn)
@bp.output(PlanKeptOut)
def freeze(json_data: FreezeIn) -> saved.Kept:
    """Freeze the coming days."""
    with store().writing() as uow:
        return wanted.freeze(uow, json_data.version, json_data.days, now())


class UseLearnedIn(BaseModel):
    """Whether to plan with what was learned."""

    version: int
    use: bool


@bp.post("/plan/learned")
@bp.input(UseLearnedIn)
@bp.output(PlanKeptOut)
def use_learned(json_data: UseLearnedIn) -> saved.Kept:
    """Plan with this shop's own hours, or with the recipes'."""
    with store().writing() as uow:
        return learning.use_learned(uow, json_data.version, use=json_data.use, now=now())


@bp.get("/deliveries")
@bp.output(DeliveriesOut)
def read_deliveries() -> deliveries.DeliveriesView:
    """What steps wait for, and what came."""
    with store().reading() as uow:
        return deliveries.DeliveriesView(wanted.deliveries(uow, now()))


class DeliveryIn(BaseModel):
    """What a step waits for; version 0 is a new one."""

    id: str
    version: int = 0
    part_id: str
    step_key: str
    what: str
    expected_on: date


@bp.post("/deliveries")
@bp.input(DeliveryIn)
@bp.output(PlanKeptOut)
def expect(json_data: DeliveryIn) -> saved.Kept:
    """Say what a step waits for."""
    with store().writing() as uow:
        return wanted.expect(uow, wanted.ExpectDelivery(**json_data.model_dump()), now())


class ArrivedIn(BaseModel):
    """Whether it came, or is not awaited any more."""

    version: int
    arrived: bool = True
    forget: bool = False


@bp.post("/deliveries/<delivery_id>")
@bp.input(ArrivedIn)
@bp.output(PlanKeptOut)
def arrive(delivery_id: str, json_data: ArrivedIn) -> saved.Kept:
    """It came; or it is not awaited any more."""
    with store().writing() as uow:
        if json_data.forget:
            return wanted.forget(uow, delivery_id, json_data.version, now())
        return wanted.arrive(uow, delivery_id, json_data.version, arrived=json_data.arrived, now=now())


def _file(data: bytes | str, kind: str, name: str) -> Response:
    return Response(data, content_type=kind, headers={"Content-Disposition": f"inline; filename={name}"})


class WeekIn(BaseModel):
    """The first day; today when none is given."""

    start: date | None = None


@bp.get("/plan/week.pdf")
@bp.input(WeekIn, location="query")
def week_sheet(query_data: WeekIn) -> Response:
    """A week's sheet, as PDF."""
    with store().reading() as uow:
        return _file(paper.week_of(uow, query_data.start, now()), "application/pdf", "week.pdf")


@bp.get("/plan.ics")
def plan_calendar() -> Response:
    """What is to come, as a calendar; its ids stay, so that a calendar that asks again moves its events."""
    with store().reading() as uow:
        return _file(paper.calendar_of(uow, now()), "text/calendar; charset=utf-8", "plan.ics")


@bp.get("/plan.csv")
def plan_table() -> Response:
    """The whole plan as a table."""
    with store().reading() as uow:
        return _file(paper.csv_of(uow, now()), "text/csv; charset=utf-8", "plan.csv")


class RunSheetOut(RootModel[run_sheet.RunSheet]):
    """A step to be worked with wet gloves."""


class SheetAtIn(BaseModel):
    """Which step."""

    part_id: str
    step_key: str


@bp.get("/run-sheet")
@bp.input(SheetAtIn, location="query")
@bp.output(RunSheetOut)
def read_run_sheet(query_data: SheetAtIn) -> run_sheet.RunSheet:
    """A step's instructions, and what was ticked."""
    with store().reading() as uow:
        return run_sheet.run_sheet_of(uow, query_data.part_id, query_data.step_key, now())


@bp.get("/run-sheet.pdf")
@bp.input(SheetAtIn, location="query")
def print_run_sheet(query_data: SheetAtIn) -> Response:
    """The same on paper."""
    with store().reading() as uow:
        page = run_sheet.run_sheet_pdf(uow, query_data.part_id, query_data.step_key, now())
    return _file(page, "application/pdf", "run-sheet.pdf")


class TickIn(BaseModel):
    """That an item was done, or was not. The client makes the id."""

    id: str
    part_id: str
    step_key: str
    item: str
    done: bool = True
    happened_at: datetime | None = None


class TicksIn(BaseModel):
    """Ticks in the order they were made, perhaps while the tablet was not connected."""

    ticks: list[TickIn] = Field(max_length=500)


class TicksOut(BaseModel):
    """How many were new."""

    kept: int


@bp.post("/ticks")
@bp.input(TicksIn)
@bp.output(TicksOut, status_code=201)
def note_ticks(json_data: TicksIn) -> dict[str, int]:
    """Keep ticks; sent twice they count once."""
    with store().writing() as uow:
        orders = [
            ticks.NoteTick(t.id, t.part_id, t.step_key, t.item, t.done, shop.in_shop_zone(uow, t.happened_at))
            for t in json_data.ticks
        ]
        return {"kept": ticks.note_ticks(uow, orders, now())}
