"""A copy of the whole shop, made every night into a second folder, and what is said where none could be."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo
from pathlib import Path
from uuid import uuid4

from sqlalchemy import select

from kiteloom.core.base.calendar import local_midnight, minute_of, when
from kiteloom.store import file
from kiteloom.store.file import CantOpen
from kiteloom.store.models import ShopCopy
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.base.shop import zone_here

#: The shop is copied at this hour of its night, or at the first moment after it that it runs.
AT_H = 2

#: Where a copy failed it is tried again after so long [min].
AGAIN_MIN = 60.0

#: So many of the newest are kept, and the newest of each of so many months.
KEPT, MONTHS = 14, 12

#: A copy older than this is said to be old.
OLD = timedelta(hours=50)

#: What stands behind the shop's name in that of a copy; nothing else in their folder is ever touched.
_WHEN = re.compile(r"-(\d{4}-\d{2})-\d{2}-\d{4}\.sqlite3")


@dataclass(frozen=True)
class CopyTo:
    """The folder copies go to; ``own`` when it may be made: a stick's must be there."""

    folder: Path
    own: bool = False


def keep_copy(store: Store, to: CopyTo, now: datetime) -> None:
    """Copy the shop once a night, read back; what is too old goes. What fails is written down, and tried again."""
    with store.reading() as uow:
        zone = zone_here(uow)
        if not _is_due(uow, zone, now):
            return
    shop, failed, size = store.path.parent, "", 0
    target = to.folder / f"{shop.name}-{now.astimezone(zone):%Y-%m-%d-%H%M}.sqlite3"
    try:
        if not to.own and not to.folder.is_dir():
            raise CantOpen(f"{to.folder} is not there; is the stick in?")
        size = file.backup(shop, target)
        for old in too_many(shop.name, [path.name for path in to.folder.iterdir()]):
            (to.folder / old).unlink()
    except CantOpen as cant:
        failed = str(cant)
    except OSError as error:
        failed = f"{to.folder} can't be written ({file.reason(error)})."
    with store.writing() as uow:
        row = ShopCopy(id=str(uuid4()), happened_at=now, recorded_at=now, path=str(target), size=size, failed=failed)
        uow.add(row)
        uow.changed("copy", row.id)


def _is_due(uow: UnitOfWork, zone: tzinfo, now: datetime) -> bool:
    minute = minute_of(now)
    midnight = local_midnight(minute, zone)
    night = midnight + 60 * AT_H
    if minute < night:
        night = local_midnight(midnight - 1, zone) + 60 * AT_H
    last, whole = _newest(uow, now), _newest(uow, now, whole=True)
    if whole is not None and minute_of(whole.happened_at) >= night:
        return False
    return last is None or not last.failed or minute - minute_of(last.happened_at) >= AGAIN_MIN


def _newest(uow: UnitOfWork, now: datetime, *, whole: bool = False) -> ShopCopy | None:
    """The newest copy, or the newest that is whole; one of a clock that was set back since counts for nothing."""
    query = select(ShopCopy).where(ShopCopy.happened_at <= now).order_by(ShopCopy.happened_at.desc()).limit(1)
    return uow.session.scalar(query.where(ShopCopy.failed == "") if whole else query)


def too_many(shop: str, names: Iterable[str]) -> list[str]:
    """Which copies of a shop are kept no longer, by their names; another's beside them are none of them."""
    months = {
        name: match[1]
        for name in sorted(names, reverse=True)
        if name.startswith(shop) and (match := _WHEN.fullmatch(name, len(shop)))
    }
    newest: dict[str, str] = {}
    for name, month in months.items():
        newest.setdefault(month, name)
    kept = {*list(months)[:KEPT], *list(newest.values())[:MONTHS]}
    return [name for name in months if name not in kept]


def copy_doubt(uow: UnitOfWork, now: datetime) -> str:
    """That the shop could not be copied, or has not been for long, in a sentence; ``""`` when all is well."""
    zone, last, whole = zone_here(uow), _newest(uow, now), _newest(uow, now, whole=True)
    if last is None:
        return ""

    def at(row: ShopCopy) -> str:
        return when(minute_of(row.happened_at), zone, minute_of(now))

    if last.failed:
        newest = f"The newest copy is of {at(whole)}." if whole is not None else "There is no copy yet."
        return f"The shop could not be copied ({at(last)}): {last.failed} {newest}"
    return (
        f"The newest copy of the shop is of {at(last)}: nobody copies it any more."
        if (now - last.happened_at > OLD)
        else ""
    )


def copy_words(uow: UnitOfWork, now: datetime) -> str:
    """Where the shop is copied to, and when it was last."""
    whole = _newest(uow, now, whole=True)
    if doubt := copy_doubt(uow, now):
        return doubt
    if whole is None:
        return (
            "There is no copy of the shop yet. Started with --copies and a folder, on another disk or a stick, it is "
            "copied in its first minute, and every night."
        )
    at, path = when(minute_of(whole.happened_at), zone_here(uow), minute_of(now)), Path(whole.path)
    newest = f"The newest copy, {path.name}, is of {at}: {whole.size / 1e6:.1f} MB, read back and whole."
    return f"The whole shop is copied to {path.parent} every night. {newest}"
