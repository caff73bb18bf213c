"""When something was written down last: a clock that stands before it was set back, or has lost its time."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy import func, select, union_all

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.store.models import Batch, BatchNote, Tick, Witness, Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import zone_here

#: Clocks are set right by so much without a word.
_SMALL = timedelta(minutes=1)


def clock_doubt(uow: UnitOfWork, now: datetime) -> str:
    """That the clock stands before the newest fact, in a sentence; ``""`` when it does not."""
    each = [select(func.max(row.recorded_at)) for row in (Work, Batch, BatchNote, Tick, Witness)]
    newest = max((at for at in uow.session.scalars(union_all(*each)) if at is not None), default=None)
    if newest is None or newest <= now + _SMALL:
        return ""
    zone = zone_here(uow)
    at, shows = (when(minute_of(moment), zone) for moment in (newest, now))
    return (
        f"The shop’s clock shows {shows}, but something was written down {at}. Set the computer’s clock right: "
        "until then times are wrong, and what was begun later can’t be finished."
    )
