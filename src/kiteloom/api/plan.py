"""What to do and when: Today, Loom, Cure, and the work that is noted. Thin."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from apiflask import APIBlueprint
from pydantic import BaseModel, RootModel

from kiteloom.api.house import TypedIn, now, store
from kiteloom.views import loom
from kiteloom.views.cure import cards, place, post_cure, release
from kiteloom.views.today import today
from kiteloom.workshop.air import parts
from kiteloom.workshop.base import saved, shop
from kiteloom.workshop.build import step_edits
from kiteloom.workshop.log import witness, work
from kiteloom.workshop.plan import alerts
from kiteloom.workshop.plan import post_cure as plan_post_cure

bp = APIBlueprint("plan", __name__, url_prefix="/api/v1", tag="Plan")


class TodayOut(RootModel[today.TodayView]):
    """What to do now."""


class LoomOut(RootModel[loom.LoomView]):
    """The plan over a stretch of time."""


class CuresOut(RootModel[cards.CuresView]):
    """Every cure."""


class TriedOut(RootModel[cards.Tried]):
    """A cure as it would be."""


class NotedOut(RootModel[work.Noted]):
    """What was noted."""


class StepSavedOut(RootModel[saved.Saved]):
    """A save."""


@bp.get("/today")
@bp.output(TodayOut)
def read_today() -> today.TodayView:
    """One sentence, the bench, what fits, what is held."""
    with store().reading() as uow:
        return today.today_view(uow, now())


class StretchIn(BaseModel):
    """From when, and how many days; from the next working day when no start is given."""

    start: datetime | None = None
    days: int = 14
    by: loom.By = "part"
    compare: bool = False


@bp.get("/loom")
@bp.input(StretchIn, location="query")
@bp.output(LoomOut)
def read_loom(query_data: StretchIn) -> loom.LoomView:
    """Every part's steps in time."""
    with store().reading() as uow:
        start = shop.in_shop_zone(uow, query_data.start)
        return loom.loom_view(uow, start, query_data.days, now(), query_data.by, compare=query_data.compare)


class PickedIn(BaseModel):
    """Which step of the plan."""

    part_id: str
    step_key: str


class PlannedOut(RootModel[loom.PlannedStep | None]):
    """One step of the plan; nothing where the plan does not have it."""


@bp.get("/loom/step")
@bp.input(PickedIn, location="query")
@bp.output(PlannedOut)
def read_planned_step(query_data: PickedIn) -> loom.PlannedStep | None:
    """When, by whom, and why not sooner."""
    with store().reading() as uow:
        return loom.planned_step(uow, query_data.part_id, query_data.step_key, now())


@bp.get("/cures")
@bp.output(CuresOut)
def read_cures() -> cards.CuresView:
    """What cures, and what is mixed next."""
    with store().reading() as uow:
        return cards.cures_view(uow, now())


class WhatIfIn(BaseModel):
    """Another start of a mix still to come, or a heater from one time of day to another."""

    part_id: str
    step_key: str
    start: datetime | None = None
    heater: TypedIn | None = None
    heater_from: str = ""
    heater_to: str = ""


@bp.post("/cures/what-if")
@bp.input(WhatIfIn)
@bp.output(TriedOut)
def what_if(json_data: WhatIfIn) -> cards.Tried:
    """Try it out; nothing is kept."""
    with store().reading() as uow:
        order = cards.WhatIf(
            json_data.part_id,
            json_data.step_key,
            shop.in_shop_zone(uow, json_data.start),
            json_data.heater.value() if json_data.heater else None,
            json_data.heater_from,
            json_data.heater_to,
        )
        return cards.try_out(uow, order, now())


class WorkIn(BaseModel):
    """That a step was started, paused or finished. The client makes the id, so a retry adds nothing."""

    id: str
    part_id: str
    step_key: str
    kind: Literal["start", "pause", "finish"]
    crew: list[str] = []
    happened_at: datetime | None = None
    at: str = ""
    again: bool = False
    reading: str = ""


@bp.post("/work")
@bp.input(WorkIn)
@bp.output(NotedOut, status_code=201)
def note_work(json_data: WorkIn) -> work.Noted:
    """Note work; the plan slides over it at once."""
    with store().writing() as uow:
        given = json_data.model_dump(exclude={"crew", "happened_at"})
        happened = shop.in_shop_zone(uow, json_data.happened_at)
        return work.note_work(uow, work.NoteWork(**given, crew=tuple(json_data.crew), happened_at=happened), now())


class UndoIn(BaseModel):
    """The id of the row that takes a note back."""

    id: str


@bp.post("/work/<work_id>/undo")
@bp.input(UndoIn)
@bp.output(NotedOut, status_code=201)
def take_back(work_id: str, json_data: UndoIn) -> work.Noted:
    """Take a note back: a new row that names it."""
    with store().writing() as uow:
        return work.take_back(uow, work_id, json_data.id, now())


class MinutesIn(BaseModel):
    """How long a step takes here; nothing goes back to what is assumed."""

    version: int
    step_key: str
    minutes: TypedIn | None = None


@bp.patch("/parts/<part_id>/minutes")
@bp.input(MinutesIn)
@bp.output(StepSavedOut)
def edit_minutes(part_id: str, json_data: MinutesIn) -> saved.Saved:
    """Change a step's hands-on minutes."""
    typed = json_data.minutes.value() if json_data.minutes else None
    with store().writing() as uow:
        return step_edits.edit_minutes(uow, part_id, json_data.version, json_data.step_key, typed, now())


class OwnStepIn(BaseModel):
    """A step of the shop's own."""

    version: int
    id: str
    name: str
    after: str
    minutes: TypedIn
    people: int = 1
    wait: TypedIn
    access: bool = False
    skills: list[str] = []


@bp.post("/parts/<part_id>/steps")
@bp.input(OwnStepIn)
@bp.output(StepSavedOut, status_code=201)
def add_step(part_id: str, json_data: OwnStepIn) -> saved.Saved:
    """Add a step after another."""
    own = step_edits.OwnStep(
        json_data.name,
        json_data.after,
        json_data.minutes.value(),
        json_data.people,
        json_data.wait.value(),
        json_data.access,
        tuple(json_data.skills),
    )
    with store().writing() as uow:
        return step_edits.add_step(uow, part_id, json_data.version, json_data.id, own, now())


class DropIn(BaseModel):
    """The step to take out."""

    version: int
    step_key: str


@bp.post("/parts/<part_id>/steps/drop")
@bp.input(DropIn)
@bp.output(StepSavedOut)
def drop_step(part_id: str, json_data: DropIn) -> saved.Saved:
    """Take a step of the shop's own out again."""
    with store().writing() as uow:
        return step_edits.drop_step(uow, part_id, json_data.version, json_data.step_key, now())


class HeardOut(BaseModel):
    """That it was heard."""

    id: int


@bp.post("/alerts/<int:alert_id>/silence")
@bp.output(HeardOut)
def silence(alert_id: int) -> dict[str, int]:
    """Silence an alert; the row stays."""
    with store().writing() as uow:
        alerts.silence(uow, alert_id, now())
    return {"id": alert_id}


class ReleaseOut(RootModel[release.ReleaseView]):
    """What stands between a part and its next step."""


class WitnessIn(BaseModel):
    """A reading on a kept cup or test panel, or a decision. The client makes the id."""

    id: str
    part_id: str
    step_key: str
    how: str
    passes: bool
    batch_id: str | None = None
    value: str = ""
    crew_member_id: str | None = None
    note: str = ""
    happened_at: datetime | None = None
    corrects_id: str | None = None


@bp.post("/witness")
@bp.input(WitnessIn)
@bp.output(ReleaseOut, status_code=201)
def read_witness(json_data: WitnessIn) -> release.ReleaseView:
    """Keep a reading; it releases what the clock only predicts."""
    given = json_data.model_dump()
    with store().writing() as uow:
        given["happened_at"] = shop.in_shop_zone(uow, json_data.happened_at)
        where = witness.read_witness(uow, witness.ReadWitness(**given), now())
    with store().reading() as uow:
        found = release.release_view(uow, *where)
    assert found is not None
    return found


class PartAirOut(RootModel[place.PartAirView]):
    """Where a part is."""


class PlaceIn(BaseModel):
    """Where a part is moved to. The client makes the id."""

    id: str
    zone_id: str


@bp.post("/parts/<part_id>/place")
@bp.input(PlaceIn)
@bp.output(PartAirOut, status_code=201)
def move_part(part_id: str, json_data: PlaceIn) -> place.PartAirView:
    """Move a part to another zone; its cure goes on at that zone's temperature."""
    with store().writing() as uow:
        parts.move_part(uow, part_id, json_data.id, json_data.zone_id, now())
    with store().reading() as uow:
        return place.part_air_view(uow, part_id, now())


class PartTempIn(BaseModel):
    """A reading of the part itself. The client makes the id."""

    id: str
    temp: TypedIn


@bp.post("/parts/<part_id>/temperature")
@bp.input(PartTempIn)
@bp.output(PartAirOut, status_code=201)
def read_part(part_id: str, json_data: PartTempIn) -> place.PartAirView:
    """Keep a part's own temperature; it wins over the air's."""
    with store().writing() as uow:
        parts.read_part(uow, part_id, json_data.id, json_data.temp.value(), now())
    with store().reading() as uow:
        return place.part_air_view(uow, part_id, now())


class PostCureOut(RootModel[post_cure.PostCureTried]):
    """What a post-cure would do."""


class HeatingOut(RootModel[plan_post_cure.HeatingView]):
    """A post-cure that was kept, or called off."""


class LegIn(BaseModel):
    """A ramp and a hold, as typed."""

    to: TypedIn
    ramp: TypedIn
    hold: TypedIn


class PostCureIn(BaseModel):
    """A post-cure, as typed."""

    part_id: str
    step_key: str
    legs: list[LegIn]
    service: TypedIn | None = None
    start: datetime | None = None

    def order(self, start: datetime | None) -> plan_post_cure.PostCureOrder:
        """As the workshop takes it."""
        legs = tuple(plan_post_cure.TypedLeg(leg.to.value(), leg.ramp.value(), leg.hold.value()) for leg in self.legs)
        service = self.service.value() if self.service else None
        return plan_post_cure.PostCureOrder(self.part_id, self.step_key, legs, service, start)


@bp.post("/cures/post-cure")
@bp.input(PostCureIn)
@bp.output(PostCureOut)
def try_post_cure(json_data: PostCureIn) -> post_cure.PostCureTried:
    """Look at ramps and holds; nothing is kept."""
    with store().reading() as uow:
        return post_cure.try_post_cure(uow, json_data.order(shop.in_shop_zone(uow, json_data.start)), now())


class KeepPostCureIn(PostCureIn):
    """A post-cure to keep. The client makes the id."""

    id: str


@bp.post("/post-cures")
@bp.input(KeepPostCureIn)
@bp.output(HeatingOut, status_code=201)
def keep_post_cure(json_data: KeepPostCureIn) -> plan_post_cure.HeatingView:
    """Keep a post-cure; from its start the part has its temperatures."""
    with store().reading() as uow:
        order = json_data.order(shop.in_shop_zone(uow, json_data.start))
    return plan_post_cure.keep_post_cure(store(), json_data.id, order, now())


class CallOffIn(BaseModel):
    """That a post-cure is called off. The client makes the id."""

    id: str


@bp.post("/post-cures/<heating_id>/off")
@bp.input(CallOffIn)
@bp.output(HeatingOut, status_code=201)
def call_off(heating_id: str, json_data: CallOffIn) -> plan_post_cure.HeatingView:
    """Call a post-cure off."""
    with store().writing() as uow:
        return plan_post_cure.call_off(uow, heating_id, json_data.id, now())
