"""Cups kept as batches on their part, and their corrections: never changed, only added to."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import NAMESPACE_URL, uuid5

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import Typed
from kiteloom.core.mix.ratio import judge
from kiteloom.core.stores.reading import resin_sheet
from kiteloom.store.models import Batch, BatchNote, CrewMember, DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import shop_temperature
from kiteloom.workshop.base.shop import in_shop_zone
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.stores.sheets import resin_of


@dataclass(frozen=True)
class PourBatch:
    """An order to keep a poured cup. The lids are what was read off both of them.

    ``used`` when some of it was used before it was right; ``another`` when it is not the cup
    that somebody else kept a moment ago.
    """

    id: str
    part_id: str
    step_key: str
    sheet_id: str
    resin_lid: str
    hardener_lid: str
    wanted_g: float
    resin: Typed
    hardener: Typed
    lot_id: str | None = None
    crew_member_id: str | None = None
    happened_at: datetime | None = None
    note: str = ""
    hardener_lot_id: str | None = None
    used: bool = False
    another: bool = False


#: A tablet's clock may be so far ahead of the shop's; what it says was mixed then is mixed now.
_CLOCKS_APART = timedelta(minutes=5)


#: A cup of the same masses on the same step within this is taken to be the same cup, until said otherwise [min].
_SAME_CUP_MIN = 10.0


def keep_batch(uow: UnitOfWork, order: PourBatch, now: datetime) -> None:
    """Keep a poured cup on its part; the same id again adds nothing."""
    resin_g, hardener_g = order.resin.read("mass", "resin"), order.hardener.read("mass", "hardener")
    same = {"part_id": order.part_id, "step_key": order.step_key, "resin_g": resin_g, "hardener_g": hardener_g}
    if uow.kept_already(Batch, order.id, data_sheet_id=order.sheet_id, **same) is not None:
        return
    sheet = uow.get(DataSheet, order.sheet_id)
    resin = resin_of(sheet)
    lids = (("resin", resin.resin_lid, order.resin_lid), ("hardener", resin.hardener_lid, order.hardener_lid))
    for part, lid, read in lids:
        if read.strip().lower() != lid.lower():
            said = f"“{read}”" if read.strip() else "nothing"
            raise Refused("lids", f"the {part}'s lid was read as {said}; for {sheet.name} it must say “{lid}”")
    step = built_part(uow, order.part_id).step(order.step_key)
    happened = in_shop_zone(uow, order.happened_at) or now
    if now < happened <= now + _CLOCKS_APART:
        happened = now
    if happened > now:
        raise Refused("happened_at", "the batch lies in the future; it can't be later than now")
    between("happened_at", (now - happened).days, high=366, unit="days", name="the batch's age")
    verdict = judge(resin.mix, resin_g, hardener_g)
    if not order.another:
        _not_kept_by_another(uow, order, resin_g, hardener_g, happened)
    lot, hardener_lot = (uow.get(Lot, key) if key else None for key in (order.lot_id, order.hardener_lot_id))
    for field, chosen in (("lot_id", lot), ("hardener_lot_id", hardener_lot)):
        if chosen is not None and chosen.data_sheet_id != sheet.id:
            raise Refused(field, f"lot {chosen.lot_number} is not of {sheet.name}")
    minute = minute_of(happened)
    air = shop_temperature(uow, minute, minute)
    who = uow.get(CrewMember, order.crew_member_id) if order.crew_member_id else None
    uow.add(
        Batch(
            id=order.id,
            part_id=order.part_id,
            step_key=order.step_key,
            step_name=step.name,
            data_sheet_id=sheet.id,
            product=sheet.name,
            says=sheet.says,
            lot_id=lot.id if lot else None,
            hardener_lot_id=hardener_lot.id if hardener_lot else None,
            crew_member_id=who.id if who else None,
            wanted_g=between("wanted_g", order.wanted_g, 0, 1e6, unit="g"),
            resin_g=resin_g,
            hardener_g=hardener_g,
            deviation_pct=verdict.deviation_pct,
            verdict=verdict.verdict,
            temp_c=air.profile.at(minute) if air else None,
            rh_pct=air.humidity(minute) if air else None,
            margin_k=air.margin(minute) if air else None,
            note=order.note.strip()[:500],
            happened_at=happened,
            recorded_at=now,
        )
    )
    if order.used and verdict.verdict != "in":
        note = "used before it was within tolerance"
        uow.add(
            BatchNote(
                id=str(uuid5(NAMESPACE_URL, f"kiteloom:used/{order.id}")),
                batch_id=order.id,
                kind="bad",
                note=note,
                happened_at=happened,
                recorded_at=now,
            )
        )
    uow.changed("batch", order.id)


def _not_kept_by_another(
    uow: UnitOfWork, order: PourBatch, resin_g: float, hardener_g: float, happened: datetime
) -> None:
    for other in batches_on(uow, order.part_id):
        apart = abs((happened - other.happened_at).total_seconds()) / 60
        near = abs(other.resin_g - resin_g) <= 1 and abs(other.hardener_g - hardener_g) <= 1
        if (other.step_key, other.data_sheet_id) == (order.step_key, order.sheet_id) and near and apart < _SAME_CUP_MIN:
            who = other.crew_member.name if other.crew_member else "Somebody"
            raise Refused(
                "another",
                f"{who} kept {plain(other.resin_g)} g and {plain(other.hardener_g)} g for this step {apart:.0f} min "
                "ago. If that is this cup, it is kept already; if not, say that it is another",
            )


@dataclass(frozen=True)
class CorrectBatch:
    """What a batch really was. The client makes the id."""

    id: str
    resin: Typed
    hardener: Typed
    note: str


def correct_batch(uow: UnitOfWork, batch_id: str, order: CorrectBatch, now: datetime) -> None:
    """Add the correction of a batch whose weights were written down wrong; the old row stays."""
    key, resin, hardener, note = order.id, order.resin, order.hardener, order.note
    if uow.kept_already(Batch, key, corrects_id=batch_id) is not None:
        return
    old = uow.get(Batch, batch_id)
    later = uow.session.scalar(select(Batch).where(Batch.corrects_id == batch_id))
    if later is not None:
        raise Refused(
            "id",
            f"this batch was corrected already, to {later.resin_g:g} g and {later.hardener_g:g} g; correct that one",
        )
    if not note.strip():
        raise Refused("note", "the note is empty; say in a few words what was wrong")
    resin_g, hardener_g = resin.read("mass", "resin"), hardener.read("mass", "hardener")
    verdict = judge(resin_sheet(old.product, old.says).mix, resin_g, hardener_g)
    kept = {c.key: getattr(old, c.key) for c in Batch.__table__.columns}
    kept |= {
        "id": key,
        "corrects_id": old.id,
        "resin_g": resin_g,
        "hardener_g": hardener_g,
        "deviation_pct": verdict.deviation_pct,
        "verdict": verdict.verdict,
        "note": note.strip()[:500],
        "recorded_at": now,
    }
    uow.add(Batch(**kept))
    uow.changed("batch", key)


def all_batches_on(uow: UnitOfWork, part_id: str) -> list[Batch]:
    """Every batch of a part, corrected ones too, in the order of their time."""
    query = select(Batch).where(Batch.part_id == part_id).order_by(Batch.happened_at, Batch.recorded_at)
    return list(uow.session.scalars(query))


def batches_on(uow: UnitOfWork, part_id: str) -> list[Batch]:
    """The batches that count on a part: corrected ones are left out."""
    rows = all_batches_on(uow, part_id)
    corrected = {batch.corrects_id for batch in rows}
    return [batch for batch in rows if batch.id not in corrected]
