"""Cups kept as batches on their part, and their corrections: never changed, only added to."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
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
from kiteloom.workshop.stores.lots import found_bad
from kiteloom.workshop.stores.sheets import resin_of


@dataclass(frozen=True)
class FillerIn:
    """What a mix was thickened with, how stiff, and how much went in, as typed."""

    sheet_id: str
    consistency: str
    grams: Typed


@dataclass(frozen=True)
class PourBatch:
    """An order to keep a poured cup. The lids are what was read off both of them.

    Without a part it is for no planned step, and ``purpose`` says for what. ``filler`` is what it was thickened
    with. ``used`` when some of it was used before it was right; ``another`` when it is not the cup
    that somebody else kept a moment ago.
    """

    id: str
    part_id: str | None
    step_key: str
    sheet_id: str
    resin_lid: str
    hardener_lid: str
    wanted_g: float
    resin: Typed
    hardener: Typed
    purpose: str = ""
    filler: FillerIn | None = None
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
    step_name = _what_for(uow, order.part_id, order.step_key, order.purpose)
    happened = in_shop_zone(uow, order.happened_at) or now
    if now < happened <= now + _CLOCKS_APART:
        happened = now
    if happened > now:
        raise Refused("happened_at", "the batch lies in the future; it can't be later than now")
    between("happened_at", (now - happened).days, high=366, unit="days", name="the batch's age")
    verdict = judge(resin.mix, resin_g, hardener_g)
    if not order.another:
        _not_kept_by_another(uow, order, resin_g, hardener_g, happened)
    lot, hardener_lot = _lots(uow, sheet, order.lot_id, order.hardener_lot_id, order.note)
    filler = _filler(uow, order.filler)
    minute = minute_of(happened)
    air = shop_temperature(uow, minute, minute)
    who = uow.get(CrewMember, order.crew_member_id) if order.crew_member_id else None
    uow.add(
        Batch(
            id=order.id,
            part_id=order.part_id,
            step_key=order.step_key if order.part_id else "",
            step_name=step_name,
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
            filler=filler,
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


def _what_for(uow: UnitOfWork, part_id: str | None, step_key: str, purpose: str) -> str:
    """The step's name; what a mix without one is for."""
    if part_id:
        return built_part(uow, part_id).step(step_key).name
    if not purpose.strip():
        raise Refused("purpose", "what it is for is not said; for no planned step, say coupon, repair or what else")
    return purpose.strip()[:80]


def _lots(
    uow: UnitOfWork, sheet: DataSheet, lot_id: str | None, hardener_lot_id: str | None, note: str
) -> tuple[Lot | None, Lot | None]:
    """The lots that were named; one found bad asks why it is used all the same."""
    lots = tuple(uow.get(Lot, key) if key else None for key in (lot_id, hardener_lot_id))
    for field, chosen in zip(("lot_id", "hardener_lot_id"), lots, strict=True):
        if chosen is not None and chosen.data_sheet_id != sheet.id:
            raise Refused(field, f"lot {chosen.lot_number} is not of {sheet.name}")
        if chosen is not None and not note.strip() and (why := found_bad(uow, chosen.id)) is not None:
            raise Refused("note", f"lot {chosen.lot_number} was found bad: {why}. Say why it is used all the same")
    return lots[0], lots[1]


def _filler(uow: UnitOfWork, typed: FillerIn | None) -> dict[str, Any]:
    if typed is None:
        return {}
    sheet, grams = uow.get(DataSheet, typed.sheet_id), typed.grams.read("mass", "filler")
    if sheet.kind != "filler powder":
        raise Refused("filler", f"{sheet.name} is not a filler powder")
    between("filler", grams, 0, 100_000, unit="g", name="the filler")
    return {"sheet_id": sheet.id, "name": sheet.name, "consistency": typed.consistency.strip()[:40], "grams": grams}


def _not_kept_by_another(
    uow: UnitOfWork, order: PourBatch, resin_g: float, hardener_g: float, happened: datetime
) -> None:
    for other in batches_on(uow, order.part_id or None):
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
    """What a batch really was; what is None was written down right. The client makes the id.

    With another product or part, its masses, lots and step are of those: a product is judged anew by its sheet.
    ``lot_id``, ``hardener_lot_id`` and ``crew_member_id`` ``""`` say that there is none.
    """

    id: str
    note: str
    resin: Typed | None = None
    hardener: Typed | None = None
    sheet_id: str | None = None
    part_id: str | None = None
    step_key: str | None = None
    lot_id: str | None = None
    hardener_lot_id: str | None = None
    crew_member_id: str | None = None


def correct_batch(uow: UnitOfWork, batch_id: str, order: CorrectBatch, now: datetime) -> None:
    """Add the correction of a batch that was written down wrong; the old row stays."""
    key, note = order.id, order.note
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
    kept = {c.key: getattr(old, c.key) for c in Batch.__table__.columns}
    kept |= _of_another(uow, old, order)
    for field, typed in (("resin", order.resin), ("hardener", order.hardener)):
        if typed is not None and typed.text.strip():
            kept[f"{field}_g"] = typed.read("mass", field)
    for field in ("lot_id", "hardener_lot_id", "crew_member_id"):
        if (chosen := getattr(order, field)) is not None:
            kept[field] = chosen or None
    _lots(uow, uow.get(DataSheet, kept["data_sheet_id"]), kept["lot_id"], kept["hardener_lot_id"], note)
    if kept["crew_member_id"]:
        uow.get(CrewMember, kept["crew_member_id"])
    verdict = judge(resin_sheet(kept["product"], kept["says"]).mix, kept["resin_g"], kept["hardener_g"])
    kept |= {"id": key, "corrects_id": old.id, "note": note.strip()[:500], "recorded_at": now}
    kept |= {"deviation_pct": verdict.deviation_pct, "verdict": verdict.verdict}
    uow.add(Batch(**kept))
    uow.changed("batch", key)


def _of_another(uow: UnitOfWork, old: Batch, order: CorrectBatch) -> dict[str, Any]:
    """What another product or another step changes of a batch."""
    found: dict[str, Any] = {}
    if order.sheet_id and order.sheet_id != old.data_sheet_id:
        sheet = uow.get(DataSheet, order.sheet_id)
        _ = resin_of(sheet).mix
        found |= {"data_sheet_id": sheet.id, "product": sheet.name, "says": sheet.says}
        found |= {"lot_id": None, "hardener_lot_id": None}
    part, step = order.part_id or old.part_id, order.step_key if order.step_key is not None else old.step_key
    if (part, step) != (old.part_id, old.step_key):
        found |= {"part_id": part, "step_key": step, "step_name": _what_for(uow, part, step, "")}
    return found


def all_batches_on(uow: UnitOfWork, part_id: str | None) -> list[Batch]:
    """Every batch of a part, or of none, corrected ones too, in the order of their time."""
    query = select(Batch).where(Batch.part_id == part_id).order_by(Batch.happened_at, Batch.recorded_at)
    return list(uow.session.scalars(query))


def batches_on(uow: UnitOfWork, part_id: str | None) -> list[Batch]:
    """The batches that count on a part: corrected ones are left out."""
    rows = all_batches_on(uow, part_id)
    corrected = {batch.corrects_id for batch in rows}
    return [batch for batch in rows if batch.id not in corrected]
