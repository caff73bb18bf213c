"""The shop clock, handed to whoever needs the time."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Protocol


class Clock(Protocol):
    """Tells the time."""

    def now(self) -> datetime:
        """The moment it is, in UTC."""


class SystemClock:
    """The machine's own clock."""

    def now(self) -> datetime:
        """The moment it is, in UTC."""
        return datetime.now(UTC)


@dataclass(frozen=True)
class SetClock:
    """A clock that was set to a moment and runs on from there: pictures and rehearsals use it."""

    start: datetime
    began: datetime = field(default_factory=lambda: datetime.now(UTC))

    def now(self) -> datetime:
        """The moment it shows, in UTC."""
        return (self.start + (datetime.now(UTC) - self.began)).astimezone(UTC)
