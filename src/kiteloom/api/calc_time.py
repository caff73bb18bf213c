"""Stateless calculations of air and time: climate, windows, schedule."""

from __future__ import annotations

from datetime import date
from typing import Any, Literal

from apiflask import APIBlueprint
from pydantic import BaseModel, Field

from kiteloom.api.calc import CureSystemIn, DegreesIn
from kiteloom.api.time_form import TimeForm
from kiteloom.core.air.moisture import judge_air
from kiteloom.core.air.profile import Profile
from kiteloom.core.air.windows import Limits, Part, straight_shots
from kiteloom.core.base.calendar import Shift, WorkingHours, clock_minutes, moment_of, zone_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import After, Step
from kiteloom.core.plan.input import Member, PlanInput, Station
from kiteloom.core.plan.place import place
from kiteloom.core.plan.placed import Placed
from kiteloom.core.stores import reading

bp = APIBlueprint("calc_time", __name__, url_prefix="/api/v1/calc", tag="Calculations")

#: More than this is not one shop's job.
MOST_STEPS, MOST_PEOPLE = 3000, 300


class ClimateIn(BaseModel):
    """Air, perhaps a surface in it, and a product's limits."""

    temp_c: float
    rh_pct: float
    surface_c: float | None = None
    min_c: float | None = None
    max_rh_pct: float | None = None


class ClimateOut(BaseModel):
    """The dew margin, and whether work may go on."""

    dew_point_c: float
    margin_c: float
    ok: bool
    reasons: list[str]


@bp.post("/climate")
@bp.input(ClimateIn)
@bp.output(ClimateOut)
def climate(json_data: ClimateIn) -> dict[str, Any]:
    """Judge a surface in this air."""
    found = judge_air(**json_data.model_dump())
    return {
        "dew_point_c": found.dew_point_c,
        "margin_c": found.margin_c,
        "ok": found.ok,
        "reasons": list(found.reasons),
    }


class HoursIn(BaseModel):
    """Working hours of one weekday (0 is Monday)."""

    weekday: int
    opens: str = Field(alias="from")
    closes: str = Field(alias="to")


class CalendarIn(BaseModel):
    """When the shop works."""

    zone: str | None = None
    hours: list[HoursIn]
    closed: list[date] = []

    def value(self, form: TimeForm) -> WorkingHours:
        """Without a zone, the offset of the request's times; without an offset, no clock changes."""
        zone = zone_of(self.zone) if self.zone else form.zone
        shifts = tuple(
            Shift(
                h.weekday,
                clock_minutes(h.opens, f"calendar.hours.{i}.from"),
                clock_minutes(h.closes, f"calendar.hours.{i}.to"),
            )
            for i, h in enumerate(self.hours)
        )
        return WorkingHours(zone if form.offset is not None else form.zone, shifts, frozenset(self.closed))


class HumidityIn(BaseModel):
    """A relative humidity at a time."""

    at: str
    rh_pct: float


class PartIn(BaseModel):
    """One part of a sequence."""

    name: str = ""
    minutes: float
    hands_on: bool = True


class WindowsIn(BaseModel):
    """A sequence, its limits, and the air of the days to come."""

    temperature: list[DegreesIn]
    humidity: list[HumidityIn] | None = None
    min_c: float
    max_c: float | None = None
    max_rh_pct: float | None = None
    parts: list[PartIn]
    calendar: CalendarIn


class WindowOut(BaseModel):
    """When it may begin, and its end when begun last."""

    start: str
    end: str
    latest_start: str


class WindowsOut(BaseModel):
    """Every window in the list's span."""

    windows: list[WindowOut]


@bp.post("/windows")
@bp.input(WindowsIn)
@bp.output(WindowsOut)
def windows(json_data: WindowsIn) -> dict[str, Any]:
    """When the whole sequence fits."""
    if not json_data.temperature:
        raise Refused("temperature", "temperature has no entries; at least 1 is wanted")
    form = TimeForm(json_data.temperature[0].at, "temperature.0.at")
    air = _profile(form, "temperature", [(p.at, p.c) for p in json_data.temperature])
    for i, entry in enumerate(json_data.humidity or []):
        between(f"humidity.{i}.rh_pct", entry.rh_pct, 0, 100, unit="%", open_low=True)
    damp = _profile(form, "humidity", [(h.at, h.rh_pct) for h in json_data.humidity]) if json_data.humidity else None
    parts = [Part(part.name, part.minutes, part.hands_on) for part in json_data.parts]
    limits = Limits(json_data.min_c, json_data.max_c, json_data.max_rh_pct)
    found = straight_shots(parts, limits, air, damp, json_data.calendar.value(form))
    return {
        "windows": [
            {"start": form.write(w.start), "end": form.write(w.end), "latest_start": form.write(w.latest_start)}
            for w in found
        ]
    }


def _profile(form: TimeForm, field: str, points: list[tuple[str, float]]) -> Profile:
    return Profile.of([(form.read(f"{field}.{i}.at", at), value) for i, (at, value) in enumerate(points)])


class MemberIn(BaseModel):
    """Somebody on the crew."""

    id: str
    skills: list[str] = []


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
    skills: list[str] = []
    stations: list[str] = []
    holds_station_through_wait: bool = False
    cure: CureSystemIn | None = None
    wait: WaitIn | None = None
    after: list[AfterIn] = []
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
    """A whole job. ``seconds`` is how long to search for a better order: not at all yet."""

    start: str
    calendar: CalendarIn
    crew: list[MemberIn]
    stations: list[StationIn] = []
    temperature: list[DegreesIn]
    steps: list[StepIn]
    seconds: float = 0.0


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
@bp.input(ScheduleIn)
@bp.output(ScheduleOut)
def schedule(json_data: ScheduleIn) -> dict[str, Any]:
    """Place every step at the first moment it can go."""
    form = TimeForm(json_data.start)
    between("seconds", json_data.seconds, 0, 3600, unit="s")
    between("steps", len(json_data.steps), 0, MOST_STEPS, name="the number of steps")
    between("crew", len(json_data.crew), 0, MOST_PEOPLE, name="the number of people")
    between("stations", len(json_data.stations), 0, MOST_PEOPLE, name="the number of stations")
    start = form.read("start", json_data.start)
    # Where nothing cures and nothing has a limit, no temperature is needed.
    heeds = any(step.cure is not None or step.min_c is not None for step in json_data.steps)
    air = [(p.at, p.c) for p in json_data.temperature]
    job = PlanInput(
        tuple(step.value(form, f"steps.{i}") for i, step in enumerate(json_data.steps)),
        start,
        json_data.calendar.value(form),
        _profile(form, "temperature", air) if air or heeds else Profile.steady(20),
        tuple(Member(member.id, frozenset(member.skills)) for member in json_data.crew),
        tuple(Station(station.id, station.capacity) for station in json_data.stations),
    )
    plan = place(job).told()
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
