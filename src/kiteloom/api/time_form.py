"""The form a request writes its times in."""

from __future__ import annotations

from datetime import UTC, datetime, tzinfo

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.problems import Refused, between


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
