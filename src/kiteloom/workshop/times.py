"""When: a surface's steps placed in working hours, each wait at the temperature it will have."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, tzinfo

from kiteloom.core.calendar import minute_of, moment_of, nights, when, zone_of
from kiteloom.core.cure import HORIZON_MIN, CureSystem, CureTimes, Progress, follow
from kiteloom.core.figures import Figure
from kiteloom.core.from_what import stage_figure
from kiteloom.core.problems import between
from kiteloom.core.quantities import UnitSystem, show
from kiteloom.core.reading import cure_system
from kiteloom.core.recipes.sandwich_skin import resin_needs, steps
from kiteloom.core.schedule.place import Mixed, Placed, place
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.batches import batches_on
from kiteloom.workshop.climate import BAND_C, ShopTemperature, need_temperature, shop_temperature
from kiteloom.workshop.shop import the_shop, units_of, working_hours
from kiteloom.workshop.skins import skin

#: Less than this still to mix is nothing to mix another cup for [g].
ENOUGH_G = 20.0
#: How far back and ahead of today a plan may start [days].
BACK_DAYS, AHEAD_DAYS = 400, 60


@dataclass(frozen=True)
class Span:
    """From a moment to a moment."""

    start: datetime
    end: datetime


@dataclass(frozen=True)
class Knot:
    """A stage of a cure: when, early and late, and in words. ``figure`` says from what."""

    name: str
    at: datetime | None
    early: datetime | None
    late: datetime | None
    words: str
    figure: Figure


@dataclass(frozen=True)
class StepView:
    """A step in time: its work, its wait's end, and the knots of its cure."""

    key: str
    name: str
    minutes: float
    people: int
    estimate: str
    caution: str
    done: bool
    start: datetime
    end: datetime
    ready: datetime | None
    pieces: list[Span]
    thread: Span | None
    knots: list[Knot]
    stalled: str
    words: str
    why: str


@dataclass(frozen=True)
class Left:
    """A step that can't be placed, and why."""

    key: str
    name: str
    why: str


@dataclass(frozen=True)
class Degrees:
    """The shop's temperature at a moment."""

    at: datetime
    c: float


@dataclass(frozen=True)
class TimesView:
    """A surface in time. Without any temperature there is only ``ask``."""

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


def times_view(uow: UnitOfWork, surface_id: str, start: datetime | None, now: datetime) -> TimesView:
    """Place a surface's steps from a start (now, when none is asked for)."""
    found, shop = skin(uow, surface_id), the_shop(uow)
    zone, units, today = zone_of(shop.zone), units_of(uow), minute_of(now)
    begin = minute_of(start) if start else math.ceil(today / 5) * 5.0
    between("start", (begin - today) / 1440, -BACK_DAYS, AHEAD_DAYS, unit="days", name="the start, from today,")
    facts: dict[str, Mixed] = {}
    left_g = {key: need.total_g for key, need in resin_needs(found.job).items()}
    for batch in batches_on(uow, surface_id):
        facts[batch.step_key] = Mixed(minute_of(batch.happened_at), cure_system(batch.says["cure"]))
        left_g[batch.step_key] = left_g.get(batch.step_key, 0.0) - batch.resin_g - batch.hardener_g
    since = min([begin, *(fact.at for fact in facts.values())])
    shop_temp = shop_temperature(uow, since, today)
    if shop_temp is None:
        nothing = moment_of(begin, zone)
        return TimesView(nothing, None, "", "", need_temperature().sentence, [], [], [], None, None, [])
    plan = place(steps(found.job), begin, working_hours(shop), shop_temp.profile, facts, BAND_C)
    writer = _Writer(zone, today, shop_temp, units, left_g)
    views = [writer.step(placed, {p.step.key: p for p in plan.placed}) for placed in plan.placed]
    ends = [placed.ready or placed.end for placed in plan.placed] + [since]
    first = min([since, *(placed.start for placed in plan.placed)])
    last = max(ends) + 6 * 60
    min_c = found.resin.cure.min_c
    coldest = min(c for _, c in shop_temp.profile.between(first, last))
    sentence = ""
    if plan.finish is not None:
        sentence = f"Trimmed and done {when(plan.finish, zone, today)}."
    if plan.unplaced:
        sentence = f"“{plan.unplaced[0].step.name}” can't be placed: {plan.unplaced[0].why}."
    if min_c is not None and coldest < min_c:
        least, low = show(min_c, "temperature", units), show(coldest, "temperature", units)
        sentence += f" The coldest hour is {low}; below {least} this resin stands still."
    until = shop_temp.known.recorded_until
    return TimesView(
        moment_of(begin, zone),
        _span((first, last), zone),
        sentence,
        f"Temperature {shop_temp.words}.",
        "",
        views,
        [Left(u.step.key, u.step.name, u.why) for u in plan.unplaced],
        [Degrees(moment_of(m, zone), c) for m, c in _thinned(shop_temp, first, last)],
        moment_of(until, zone) if until is not None else None,
        min_c,
        [_span(night, zone) for night in nights(zone, first, last)],
    )


def _thinned(known: ShopTemperature, start: float, end: float) -> list[tuple[float, float]]:
    """At most some 600 points, enough for any screen."""
    points = known.profile.between(start, end)
    every = max(len(points) // 600, 1)
    return points[::every] + ([points[-1]] if (len(points) - 1) % every else [])


def _span(interval: tuple[float, float], zone: tzinfo) -> Span:
    return Span(moment_of(interval[0], zone), moment_of(interval[1], zone))


@dataclass(frozen=True)
class _Writer:
    """Puts placed steps into words and moments of the shop's zone."""

    zone: tzinfo
    now: float
    temperature: ShopTemperature
    units: UnitSystem
    left_g: dict[str, float]

    def step(self, placed: Placed, by_key: dict[str, Placed]) -> StepView:
        step, zone = placed.step, self.zone
        knots: list[Knot] = []
        thread, stalled = None, 0.0
        if placed.cured is not None and placed.mixed is not None and step.cure is not None:
            progress = follow(step.cure, placed.mixed, self.temperature.profile)
            knots = self._knots(step.cure, placed.cured, placed.mixed, progress)
            stalled = progress.stalled_by((placed.ready or placed.mixed + HORIZON_MIN) - placed.mixed)
            if placed.ready is not None and step.wait_stage:
                thread = _span((placed.mixed, placed.ready), zone)
        return StepView(
            step.key,
            step.name,
            step.minutes,
            step.people,
            step.estimate.words(step.people, self.units) if step.estimate else "",
            step.caution,
            placed.done,
            moment_of(placed.start, zone),
            moment_of(placed.end, zone),
            moment_of(placed.ready, zone) if placed.ready is not None else None,
            [_span(piece, zone) for piece in placed.pieces],
            thread,
            knots,
            f"Too cold for {stalled:.1f} h of this wait: the cure stands still then." if stalled >= 0.05 else "",
            self._words(placed),
            self._why(placed, by_key),
        )

    def _words(self, placed: Placed) -> str:
        step = placed.step
        if placed.done:
            first = f"Last batch mixed {self._at(placed.start)}"
            left = self.left_g.get(step.key, 0.0)
            if left > ENOUGH_G:
                first = f"{first}, {show(left, 'mass', self.units)} of it still to mix"
        else:
            first = f"{self._at(placed.start)} to {self._at(placed.end, placed.start)}"
        if step.wait_stage is None:
            return f"{first}."
        if placed.ready is None:
            return f"{first}; not ready for “{step.wait_stage}” within 60 days."
        return f"{first}; check for “{step.wait_stage}” from {self._at(placed.ready)}."

    def _why(self, placed: Placed, by_key: dict[str, Placed]) -> str:
        because = placed.because
        if because.kind == "done":
            return "It is written down: its cure counts from the last batch kept on it."
        if because.kind == "start":
            return "It starts when you asked for."
        if because.kind == "hours":
            return "Not sooner: the shop is closed, or too little of the day was left."
        before = by_key.get(because.of)
        name = before.step.name if before else because.of
        if because.kind == "cure" and before is not None:
            return f"Not sooner: “{name}” must first cure."
        return f"Not sooner: it follows “{name}”."

    def _knots(self, system: CureSystem, cured: CureTimes, mixed: float, progress: Progress) -> list[Knot]:
        knots: list[Knot] = []
        for stage in cured.stages:
            span = stage.minutes if stage.minutes is not None else HORIZON_MIN
            figure = stage_figure(
                system,
                stage,
                self.temperature.profile.mean(mixed, mixed + span),
                progress.stalled_by(span),
                self.temperature.words,
                self.temperature.known.assumed(mixed, mixed + span),
            )
            knots.append(
                Knot(
                    stage.name,
                    self._moment(mixed, stage.minutes),
                    self._moment(mixed, stage.early),
                    self._moment(mixed, stage.late),
                    self._knot_words(mixed, stage.minutes, stage.early, stage.late),
                    figure,
                )
            )
        return knots

    def _knot_words(self, mixed: float, at: float | None, early: float | None, late: float | None) -> str:
        if at is None:
            return "not within 60 days"
        latest = self._at(mixed + late, mixed + at) if late is not None else "later than 60 days"
        earliest = self._at(mixed + (early if early is not None else at), mixed + at)
        return f"{self._at(mixed + at)} (between {earliest} and {latest})"

    def _at(self, minute: float, beside: float | None = None) -> str:
        """A time with its day, or without when it stands beside one of the same day."""
        words = when(minute, self.zone, self.now)
        if beside is None:
            return words
        day, other = (moment_of(m, self.zone).date() for m in (minute, beside))
        if day == other:
            return words[-5:]
        return f"today {words}" if day == moment_of(self.now, self.zone).date() else words

    def _moment(self, mixed: float, minutes: float | None) -> datetime | None:
        return None if minutes is None else moment_of(mixed + minutes, self.zone)
