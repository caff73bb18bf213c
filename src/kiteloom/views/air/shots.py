"""Straight shots: when, in the coming week, a whole sequence fits unbroken within its limits."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.air.windows import Limits, Part, Window, straight_shots
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import MAIN, need_temperature, shop_temperature
from kiteloom.workshop.base.saying import Saying
from kiteloom.workshop.base.shop import the_shop, units_of, working_hours, zone_here

#: How far the forecast is trusted for it [days].
AHEAD_DAYS = 7


_EVERY_MIN = 30.0


_PARTS = 20


@dataclass(frozen=True)
class ShotPart:
    """One part of a sequence, as typed."""

    name: str
    minutes: Typed
    hands_on: bool


@dataclass(frozen=True)
class ShotOrder:
    """A sequence and its limits, as typed; an empty limit is none."""

    parts: tuple[ShotPart, ...]
    least: Typed
    most: Typed
    most_rh: Typed
    zone: str = MAIN


@dataclass(frozen=True)
class Shot:
    """A window: begin from ``start`` to ``latest_start``."""

    start: datetime
    latest_start: datetime
    end: datetime
    words: str


@dataclass(frozen=True)
class ShotsView:
    """The windows of the coming week, or why there is none."""

    shots: list[Shot]
    sentence: str


@dataclass(frozen=True)
class UsualPart:
    """A part of the sequence that is offered first."""

    name: str
    minutes: str
    hands_on: bool


@dataclass(frozen=True)
class UsualShot:
    """Heat-set covering adhesive: two coats, dried, cloth on, heat-set, never below its limit (common practice)."""

    parts: list[UsualPart]
    least: str


def usual_shot(uow: UnitOfWork) -> UsualShot:
    """What is offered first."""
    rows = (
        ("First coat on the frame", "40 min", True),
        ("It dries", "45 min", False),
        ("Second coat", "40 min", True),
        ("It dries", "45 min", False),
        ("Cloth on", "60 min", True),
        ("Heat-set", "45 min", True),
    )
    return UsualShot([UsualPart(*row) for row in rows], show(40 / 1.8 - 32 / 1.8, "temperature", units_of(uow)))


def shots(uow: UnitOfWork, order: ShotOrder, now: datetime) -> ShotsView:
    """Look for windows; nothing is kept."""
    minute, units = minute_of(now), units_of(uow)
    air = shop_temperature(uow, minute, minute, order.zone)
    if air is None:
        raise need_temperature()
    if len(order.parts) > _PARTS:
        raise Refused("parts", f"the sequence has {len(order.parts)} parts; at most {_PARTS} are looked at")
    parts = [
        Part(p.name.strip() or f"part {i}", p.minutes.read("time", f"parts.{i}.minutes"), p.hands_on)
        for i, p in enumerate(order.parts)
    ]
    limits = Limits(_limit(order.least, "least"), _limit(order.most, "most"), _share(order.most_rh))
    end = minute + AHEAD_DAYS * DAY_MIN
    temperature = Profile.of(air.profile.between(minute, end))
    marks = [minute + i * _EVERY_MIN for i in range(int((end - minute) / _EVERY_MIN) + 1)]
    known = air.dew.minutes[-1] if air.dew is not None else minute
    damp = [(mark, rh) for mark in marks if mark <= known and (rh := air.humidity(mark)) is not None]
    humidity = Profile.of(damp) if damp else None
    hours = working_hours(the_shop(uow))
    say = Saying(zone_here(uow), minute, units)

    def found(held: Limits, wet: Profile | None) -> list[Window]:
        return straight_shots(parts, held, temperature, wet, hours)

    windows = found(limits, humidity)
    total = say.lasting(sum(part.minutes for part in parts))
    if windows:
        rows = [
            Shot(
                say.moment(w.start),
                say.moment(w.latest_start),
                say.moment(w.end),
                f"Begin {say.at(w.start)} to {say.at(w.latest_start, w.start)}; "
                f"begun last, it is over {say.at(w.end, w.start)}.",
            )
            for w in windows
        ]
        unsure = ""
        if not damp:
            unsure = " The humidity is not known: look at it yourself."
        elif windows[0].end > damp[-1][0]:
            unsure = f" Humidity is known until {say.at(damp[-1][0])}; after that it is taken to stay so."
        return ShotsView(rows, f"{total} without a break: {rows[0].words}{unsure}")
    held_by = []
    if limits.min_c is not None and found(replace(limits, min_c=None), humidity):
        held_by.append(f"it is colder than {show(limits.min_c, 'temperature', units)} too often")
    if limits.max_c is not None and found(replace(limits, max_c=None), humidity):
        held_by.append(f"it is warmer than {show(limits.max_c, 'temperature', units)} too often")
    if humidity is not None and found(replace(limits, max_rh_pct=None), None):
        held_by.append("the air is too damp")
    if not held_by:
        held_by.append("its hands-on parts do not fit the working hours")
    return ShotsView([], f"{total} without a break do not fit into the coming week: {', and '.join(held_by)}.")


def _limit(typed: Typed, field: str) -> float | None:
    if not typed.text.strip():
        return None
    return between(field, typed.read("temperature", field), -30, 60, unit="°C", name="the limit")


def _share(typed: Typed) -> float | None:
    if not typed.text.strip():
        return None
    return between("most_rh", typed.read("share", "most_rh"), 1, 100, unit="%", name="the most humidity")
