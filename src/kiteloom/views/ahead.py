"""What tablets show, made for the minute that is about to begin: when it begins, nobody waits for it."""

from __future__ import annotations

from datetime import datetime, timedelta

from kiteloom.core.base.calendar import minute_of
from kiteloom.store.unit_of_work import Store
from kiteloom.views.cure.cards import cures_view
from kiteloom.views.loom import as_it_opens
from kiteloom.views.strip import weather
from kiteloom.views.today.today import today_view
from kiteloom.workshop.base.memory import is_shown

#: What each page is remembered under, and what makes it.
PAGES = {
    "today_view": today_view,
    "cures_view": cures_view,
    "the Loom as it opens": as_it_opens,
    "weather": weather,
}


def made_ahead(store: Store, now: datetime) -> None:
    """Make the next minute's pages, those that somebody shows in this one."""
    begins = now.replace(second=0, microsecond=0) + timedelta(minutes=1)
    for name, make in PAGES.items():
        with store.reading() as uow:
            if is_shown(uow, minute_of(now), name):
                make(uow, begins)
