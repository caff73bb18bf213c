"""What was written down of the build, as one book: what of it is asked for, day by day."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta, tzinfo
from typing import Literal, get_args

from kiteloom.core.base.calendar import Interval, minute_of, moment_of

Kind = Literal["work", "mix", "reading", "closing", "wrong", "decision", "stores", "note", "question"]

#: The kinds of entries, in the order they are offered.
KINDS: Sequence[Kind] = get_args(Kind)


@dataclass(frozen=True)
class Entry:
    """One thing that was written down.

    ``at`` is when it happened [min]. ``of`` says what it is about and ``words`` what was found or done; ``sub`` what
    else is known of it, a line each. ``corrects`` says what it corrects; ``against`` why it does not count any more,
    ``""`` while it does. ``photos`` are what was photographed, ``spoken`` what was recorded.
    """

    id: str
    kind: Kind
    at: float
    of: str
    words: str
    part: str = ""
    step: str = ""
    people: tuple[str, ...] = ()
    products: tuple[str, ...] = ()
    lots: tuple[str, ...] = ()
    sub: tuple[str, ...] = ()
    corrects: str = ""
    against: str = ""
    photos: tuple[str, ...] = ()
    spoken: tuple[str, ...] = ()
    open: bool = False
    """Of a question: that nobody has answered it."""


@dataclass(frozen=True)
class Sought:
    """What of the book is asked for; ``""`` asks for all. ``words`` must all be found, in whatever order."""

    part: str = ""
    person: str = ""
    product: str = ""
    lot: str = ""
    kind: str = ""
    words: str = ""

    def takes(self, entry: Entry, text: str = "") -> bool:
        """Whether an entry is asked for; ``text`` is what can be found in it, folded: see `text_of`.

        >>> entry = Entry("1", "note", 0.0, "Rudder", "Die Kante löst sich", part="r", photos=("p",))
        >>> Sought(words="kante LOST").takes(entry, text_of(entry, {})), Sought(kind="photographs").takes(entry)
        (True, True)
        >>> Sought(part="r", words="spar").takes(entry, text_of(entry, {"r": "Spar of the rudder"}))
        True
        >>> Sought(person="bo").takes(entry)
        False
        """
        if self.part not in ("", entry.part) or (self.person and self.person not in entry.people):
            return False
        if (self.product and self.product not in entry.products) or (self.lot and self.lot not in entry.lots):
            return False
        if self.kind == "photographs":
            if not entry.photos:
                return False
        elif self.kind == "open":
            if not entry.open:
                return False
        elif self.kind not in ("", entry.kind):
            return False
        return all(word in text for word in folded(self.words).split())


def text_of(entry: Entry, names: Mapping[str, str]) -> str:
    """What can be found in an entry, folded: its words, and the names of its part, people, products and lots by id."""
    about = (entry.part, *entry.people, *entry.products, *entry.lots)
    return folded(" ".join((entry.of, entry.words, *entry.sub, entry.corrects, *(names.get(i, "") for i in about))))


def folded(text: str) -> str:
    """A text as it is looked for: without capitals and accents.

    >>> folded("Öl-Prüfung")
    'ol-prufung'
    """
    if text.isascii():
        return text.casefold()
    bare = unicodedata.normalize("NFKD", text.casefold())
    return "".join(letter for letter in bare if not unicodedata.combining(letter))


@dataclass(frozen=True)
class Day:
    """A day of the book: its entries in the order they happened, and each one's minutes of work."""

    day: date
    entries: tuple[Entry, ...]
    hours: Mapping[str, float]


def by_day(
    entries: Iterable[Entry], worked: Iterable[tuple[Interval, tuple[str, ...]]], zone: tzinfo, most: int
) -> tuple[list[Day], date | None]:
    """The newest days that have entries, at least one and until there are so many entries; and the next day before.

    ``worked`` are stretches of work [min] and by whom; each day has what of them lies in it.
    """
    days: dict[date, list[Entry]] = {}
    for entry in sorted(entries, key=lambda entry: -entry.at):
        day = moment_of(entry.at, zone).date()
        if day not in days and sum(map(len, days.values())) >= most:
            return _days(days, worked, zone), day
        days.setdefault(day, []).append(entry)
    return _days(days, worked, zone), None


def _days(
    days: Mapping[date, list[Entry]], worked: Iterable[tuple[Interval, tuple[str, ...]]], zone: tzinfo
) -> list[Day]:
    hours: dict[date, dict[str, float]] = {day: {} for day in days}
    for (start, end), people in worked:
        day = moment_of(start, zone).date()
        while (begins := _midnight(day, zone)) < end:
            if day in hours:
                within = min(end, _midnight(day + timedelta(days=1), zone)) - max(start, begins)
                for person in people:
                    hours[day][person] = hours[day].get(person, 0.0) + within
            day += timedelta(days=1)
    return [Day(day, tuple(reversed(entries)), hours[day]) for day, entries in days.items()]


def _midnight(day: date, zone: tzinfo) -> float:
    return minute_of(datetime.combine(day, datetime.min.time(), zone))
