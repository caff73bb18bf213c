"""What several calculations are written in: times in the form of the request, temperatures, a cure."""

from __future__ import annotations

from datetime import UTC, date, datetime, tzinfo

from pydantic import BaseModel, Field

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Shift, WorkingHours, clock_minutes, minute_of, moment_of, zone_of
from kiteloom.core.base.problems import Refused, between

#: A history of so many points is three weeks, minute by minute, or three years, hour by hour.
MOST_POINTS = 30_000


class TimeForm:
    """The form a request writes its times in; the answer's have the same."""

    def __init__(self, start: str, field: str = "start") -> None:
        self.utc_z = start.strip().upper().endswith("Z")
        self.offset = self._parsed(field, start).tzinfo

    @property
    def zone(self) -> tzinfo:
        """The offset, or a shop without clock changes."""
        return self.offset or UTC

    @staticmethod
    def _parsed(field: str, text: str) -> datetime:
        try:
            moment = datetime.fromisoformat(text)
        except ValueError:
            raise Refused(field, f"{field} “{text}” isn't a time; write it like 2026-05-14T16:40") from None
        between(field, moment.year, 1900, 2200, name=f"the year of {field}")
        return moment

    def read(self, field: str, text: str) -> float:
        """A time as minutes; without an offset the shop has no clock changes, so UTC serves."""
        moment = self._parsed(field, text)
        if (moment.tzinfo is None) != (self.offset is None):
            raise Refused(field, f"{field} “{text}” and start differ in form; give all times an offset, or none")
        return minute_of(moment if moment.tzinfo else moment.replace(tzinfo=moment_of(0).tzinfo))

    def write(self, minute: float | None) -> str | None:
        """A time in that form, to the second."""
        if minute is None:
            return None
        if self.offset is None:
            return moment_of(minute).replace(tzinfo=None).isoformat()
        text = moment_of(minute, self.offset).isoformat()
        return text.replace("+00:00", "Z") if self.utc_z else text


class StageIn(BaseModel):
    """A stage and its hours at the reference, from the mix."""

    name: str
    hours: float


class CureSystemIn(BaseModel):
    """How fast a product cures."""

    activation_energy_kj_mol: float
    reference_c: float
    activation_energy_band_kj_mol: float | None = None
    min_c: float | None = None
    stages: list[StageIn] = Field(max_length=30)


class DegreesIn(BaseModel):
    """A temperature at a time."""

    at: str
    c: float


class HoursIn(BaseModel):
    """Working hours of one weekday (0 is Monday)."""

    weekday: int
    opens: str = Field(alias="from")
    closes: str = Field(alias="to")


class CalendarIn(BaseModel):
    """When the shop works."""

    zone: str | None = None
    hours: list[HoursIn] = Field(max_length=100)
    closed: list[date] = Field([], max_length=2000)

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


def profile(form: TimeForm, field: str, points: list[tuple[str, float]]) -> Profile:
    """Temperatures at times of a request\'s form."""
    return Profile.of([(form.read(f"{field}.{i}.at", at), value) for i, (at, value) in enumerate(points)])
