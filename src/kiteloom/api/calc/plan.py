"""A schedule placed."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from pydantic import BaseModel, Field

from kiteloom.api.calc.forms import MOST_POINTS, CalendarIn, CureSystemIn, DegreesIn, TimeForm, profile
from kiteloom.api.house import Routes
from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import moment_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import After, Step
from kiteloom.core.plan.better import Budget, better
from kiteloom.core.plan.input import Member, PlanInput, Station
from kiteloom.core.plan.placed import Placed
from kiteloom.core.stores import reading

bp = Routes("calc_plan", "Calculations", "/calc")

#: More than this is not one shop's job.
MOST_STEPS, MOST_PEOPLE, MOST_SKILLS = 500, 60, 12
#: What held each step is looked into where steps times people are no more; beyond, what was met last is told.
MOST_TOLD = 2000


class MemberIn(BaseModel):
    """Somebody on the crew."""

    id: str
    skills: list[str] = Field([], max_length=60)


class StationIn(BaseModel):
    """A place or device, and how many it serves."""

    id: str
    capacity: int = 1


class WaitIn(BaseModel):
    """A stage of the cure, or a fixed time."""

    stage: str | None = None
    minutes: float | None = None


class AfterIn(BaseModel):
    """What must come before, until which of its events, and how soon after it."""

    step: str
    until: str = "wait"
    within_minutes: float | None = None


class StepIn(BaseModel):
    """Hands-on work, then a wait."""

    id: str
    minutes: float
    people: int = 1
    skills: list[str] = Field([], max_length=MOST_SKILLS)
    stations: list[str] = Field([], max_length=20)
    holds_station_through_wait: bool = False
    cure: CureSystemIn | None = None
    wait: WaitIn | None = None
    after: list[AfterIn] = Field([], max_length=60)
    not_before: str | None = None
    min_c: float | None = None
    may_pause: bool = False

    def value(self, form: TimeForm, field: str) -> Step:
        """As the core takes it."""
        wait = self.wait or WaitIn()
        if wait.stage is not None and wait.minutes is not None:
            raise Refused(f"{field}.wait", f"{field}.wait has a stage and minutes; it can have one of them")
        return Step(
            self.id,
            self.id,
            self.minutes,
            self.people,
            tuple(After(link.step, link.until, link.within_minutes) for link in self.after),
            reading.cure_system(self.cure.model_dump()) if self.cure else None,
            wait.stage,
            self.may_pause,
            skills=tuple(self.skills),
            stations=tuple(self.stations),
            holds=self.holds_station_through_wait,
            wait_min=wait.minutes or 0.0,
            not_before=form.read(f"{field}.not_before", self.not_before) if self.not_before else None,
            min_c=self.min_c,
        )


class ScheduleIn(BaseModel):
    """A whole job.

    ``seconds`` is how long a better order is searched for, 0 not at all; ``rounds`` in place of it gives the same
    answer each time for the same ``seed``.
    """

    start: str
    calendar: CalendarIn
    crew: list[MemberIn]
    stations: list[StationIn] = []
    temperature: list[DegreesIn] = Field(max_length=MOST_POINTS)
    steps: list[StepIn]
    seconds: float = 0.0
    rounds: int | None = None
    seed: int = Field(1, ge=0, le=1_000_000)


class BecauseOut(BaseModel):
    """What held a step."""

    kind: Literal["crew", "station", "cure", "after", "hours", "delivery", "climate", "start"]
    of: str


class PlacedOut(BaseModel):
    """A step in time."""

    id: str
    start: str
    end: str
    ready: str | None
    people: list[str]
    because: BecauseOut


class UnplacedOut(BaseModel):
    """A step that can't be placed."""

    id: str
    why: str


class ScheduleOut(BaseModel):
    """Every step in time, and a finish no plan can beat."""

    finish: str | None
    lower_bound: str
    gap_pct: float | None
    steps: list[PlacedOut]
    unplaced: list[UnplacedOut]


@bp.post("/schedule")
@bp.takes(ScheduleIn)
@bp.gives(ScheduleOut)
def schedule(order: ScheduleIn) -> dict[str, Any]:
    """Place every step at the first moment it can go; in a better order, where one is searched for."""
    form = TimeForm(order.start)
    budget = Budget(order.seconds, order.rounds, order.seed)
    between("steps", len(order.steps), 0, MOST_STEPS, name="the number of steps")
    between("crew", len(order.crew), 0, MOST_PEOPLE, name="the number of people")
    between("stations", len(order.stations), 0, MOST_PEOPLE, name="the number of stations")
    start = form.read("start", order.start)
    # Where nothing cures and nothing has a limit, no temperature is needed.
    heeds = any(step.cure is not None or step.min_c is not None for step in order.steps)
    air = [(p.at, p.c) for p in order.temperature]
    job = PlanInput(
        tuple(step.value(form, f"steps.{i}") for i, step in enumerate(order.steps)),
        start,
        order.calendar.value(form),
        profile(form, "temperature", air) if air or heeds else Profile.steady(20),
        tuple(Member(member.id, frozenset(member.skills)) for member in order.crew),
        tuple(Station(station.id, station.capacity) for station in order.stations),
    )
    plan = better(job, budget, late=False)
    if len(order.steps) * max(len(order.crew), 1) <= MOST_TOLD:
        plan = plan.told()
    else:
        plan = replace(plan, placed=tuple(replace(placed, tell=None) for placed in plan.placed))
    finish = plan.finish
    gap = None
    if finish is not None:
        gap = 100 * (finish - plan.bound) / (plan.bound - start) if plan.bound > start else 0.0

    def of(placed: Placed) -> str:
        if placed.because.of:
            return placed.because.of
        return moment_of(placed.start, job.hours.zone).date().isoformat()

    return {
        "finish": form.write(finish),
        "lower_bound": form.write(plan.bound),
        "gap_pct": gap,
        "steps": [
            {
                "id": p.step.key,
                "start": form.write(p.start),
                "end": form.write(p.end),
                "ready": form.write(p.ready),
                "people": list(p.people),
                # What was moved so that another can follow in time is held by that one.
                "because": {"kind": "after" if p.because.kind == "window" else p.because.kind, "of": of(p)},
            }
            for p in plan.placed
        ],
        "unplaced": [{"id": left.step.key, "why": left.why} for left in plan.unplaced],
    }
