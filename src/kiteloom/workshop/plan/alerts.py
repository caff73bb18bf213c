"""What a builder must hear of, once and while it is so: a stage to check, a stalled cure, damp air, a silent probe."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import or_, select

from kiteloom.core.air.moisture import LEAST_MARGIN_K
from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.alarms import NEWS_MIN, SHIFTS_MIN, standing_still, still_wet, to_check
from kiteloom.store.models import Alert, DataSheet, Lot, Part
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import zones
from kiteloom.workshop.air.readings import last_reading
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.log.mixes import on_steps, where_it_went, why_spoilt
from kiteloom.workshop.log.open_cups import OpenCup, open_cups
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.lots import found_bad, made_of, notes_of_lot, versions_of

Kind = Literal["stage", "stalled", "dew", "silent", "cup", "mix", "lot"]


#: A probe is silent when it has said nothing for so long [min].
SILENT_MIN = 30.0


@dataclass(frozen=True)
class AlertView:
    """One alert: its words, and where to look."""

    id: int
    kind: Kind
    words: str
    link: str
    happened_at: datetime


def open_alerts(uow: UnitOfWork) -> list[AlertView]:
    """Alerts not yet silenced and not over, the newest first."""
    open_ones = select(Alert).where(Alert.silenced_at.is_(None), Alert.ended_at.is_(None))
    rows = uow.session.scalars(open_ones.order_by(Alert.happened_at.desc(), Alert.id.desc()))
    return [AlertView(row.id, row.kind, row.words, row.link, row.happened_at) for row in rows]  # type: ignore[arg-type]


@dataclass(frozen=True)
class Heard:
    """That an alert was heard."""

    id: int


def silence(uow: UnitOfWork, alert_id: int, now: datetime) -> Heard:
    """It was heard; the row stays."""
    row = uow.get(Alert, alert_id)
    if row.silenced_at is None:
        row.silenced_at = now
        uow.changed("alert", alert_id)
    return Heard(alert_id)


@dataclass(frozen=True)
class _News:
    kind: Kind
    about: str
    link: str
    words: str
    at: float


def raise_alerts(store: Store, now: datetime) -> int:
    """Add a row for whatever is news and was not said yet, and end those whose cause is over; how many were added."""
    minute = minute_of(now)
    with store.reading() as uow:
        causes = _causes(uow, minute)
        recent = [cause for cause in causes if 0 <= minute - cause.at < NEWS_MIN]
        fresh, over = _unsaid(uow, recent), _over(uow, causes)
    if not fresh and not over:
        return 0
    with store.writing() as uow:
        fresh = _unsaid(uow, fresh)
        for n in fresh:
            at = moment_of(n.at)
            known = uow.session.scalar(select(Alert).where(Alert.about == n.about))
            if known is None:
                uow.add(Alert(kind=n.kind, about=n.about, link=n.link, words=n.words, happened_at=at, recorded_at=now))
            else:
                known.words, known.happened_at, known.ended_at = n.words, at, None
        for row in _over(uow, causes):
            row.ended_at = now
        uow.changed("alert", fresh[-1].about if fresh else over[-1].about)
    return len(fresh)


def _causes(uow: UnitOfWork, minute: float) -> list[_News]:
    """All that is so now and must be heard, said already or not; a check also a short while before it is due."""
    shop = shop_plan(uow, minute)
    about_resin = [*_cups(uow, minute), *_spoilt(uow, shop), *_bad_lots(uow)]
    return [*_silent(uow, minute), *about_resin, *(_stages(shop) + _stalled(shop) + _dew(shop) if shop else [])]


def _over(uow: UnitOfWork, causes: list[_News]) -> list[Alert]:
    """Alerts still heard whose cause is no more."""
    standing = {cause.about for cause in causes}
    rows = uow.session.scalars(select(Alert).where(Alert.silenced_at.is_(None), Alert.ended_at.is_(None)))
    return [row for row in rows if row.about not in standing]


def _unsaid(uow: UnitOfWork, news: list[_News]) -> list[_News]:
    # Air that wavers about a limit is said once a night; a check that is due again is said again.
    stands = or_(Alert.ended_at.is_(None), Alert.kind != "stage")
    said = set(uow.session.scalars(select(Alert.about).where(Alert.about.in_([n.about for n in news]), stands)))
    return [n for n in news if n.about not in said]


def _stages(shop: ShopPlan) -> list[_News]:
    """A stage that somebody waits for, to be checked until it is released; found soft, to be read again in a while."""
    found = []
    # An alarm does not end because its check has come to be due a few minutes later.
    for check in to_check(shop.plan, shop.releases, shop.now + SHIFTS_MIN):
        placed, stage = check.placed, check.placed.step.wait_stage
        about = f"stage/{placed.step.key}/{round(placed.mixed or placed.end)}/{stage}"
        what = f"check for “{stage}” now"
        if check.soft_at is not None:
            about += f"/{round(check.soft_at)}"
            what = f"found soft {shop.saying.at(check.soft_at)}; read “{stage}” again"
        words = f"{shop.names[placed.step.part]}: {what} ({placed.step.name.lower()})."
        found.append(_News("stage", about, f"/cure/{placed.step.part}", words, check.since))
    return found


def _stalled(shop: ShopPlan) -> list[_News]:
    """A live cure whose air is below its product's minimum now; once a night."""
    found, say = [], shop.saying
    for placed, until in standing_still(shop.plan, shop.now):
        least = placed.cure.min_c if placed.cure and placed.cure.min_c is not None else 0.0
        now, needs = (show(c, "temperature", say.units) for c in (shop.air_at(placed).profile.at(shop.now), least))
        back = f", until about {say.at(until)}" if until is not None else ""
        words = f"{shop.names[placed.step.part]}: the cure stands still at {now}{back}; it needs {needs}."
        night = moment_of(shop.now - 12 * 60, say.zone).date()
        about = f"stalled/{placed.step.key}/{round(placed.mixed or placed.end)}/{night}"
        found.append(_News("stalled", about, f"/cure/{placed.step.part}", words, shop.now))
    return found


def _dew(shop: ShopPlan) -> list[_News]:
    """The dew margin lost while something is still wet; once a day."""
    wet, units = still_wet(shop.plan, shop.now), shop.saying.units
    margins = [(placed, shop.air_at(placed).margin(shop.now)) for placed in wet]
    lost = [(placed, margin) for placed, margin in margins if margin is not None and margin < LEAST_MARGIN_K]
    if not lost:
        return []
    placed, margin = lost[0]
    where = shop.names[placed.step.part]
    words = (
        f"{where}: still wet, and it is only {show(margin, 'difference', units)} above the dew point; "
        f"{show(LEAST_MARGIN_K, 'difference', units)} is wanted."
    )
    day = moment_of(shop.now, shop.saying.zone).date()
    return [_News("dew", f"dew/{placed.step.key}/{day}", f"/cure/{placed.step.part}", words, shop.now)]


def _cups(uow: UnitOfWork, minute: float) -> list[_News]:
    """A cup that is soon to go off, or has: once each."""
    found = []
    for cup in open_cups(uow, moment_of(minute)):
        until = minute_of(cup.until)
        if cup.state == "soon":
            words = f"{cup.words} within {max(until - minute, 0):.0f} min."
        elif cup.state == "gone":
            words = f"{cup.words}."
        elif cup.stood_at is not None and minute - minute_of(cup.stood_at) < SILENT_MIN:
            found.append(_stood(cup, minute))
            continue
        else:
            continue
        found.append(_News("cup", f"cup/{cup.batch_id}/{cup.state}", f"/mix?batch={cup.batch_id}", words, minute))
    return found


def _spoilt(uow: UnitOfWork, shop: ShopPlan | None) -> list[_News]:
    """A mix out of its ratio, or marked bad, on a part, until somebody has decided about it."""
    found = []
    for (part_id, step_key), mixes in on_steps(uow).items():
        stands = shop.releases.get(f"{part_id}:{step_key}") if shop else None
        for mix in mixes:
            if mix.spoilt is None or mix.grams <= 0 or (stands is not None and mix.batch.id not in stands.spoilt):
                continue
            why = why_spoilt(uow, mix.batch)
            words = f"{uow.get(Part, part_id).name}: a mix of {mix.batch.product} on it is {why}. It holds the part up."
            about = f"mix/{versions_of(uow, mix.batch)[-1]}/{mix.batch.id}/{part_id}"
            # It is known to be so since it was written down, however long ago it was mixed.
            known = max(mix.spoilt, minute_of(mix.batch.recorded_at))
            found.append(_News("mix", about, f"/cure/{part_id}", words, known))
    return found


def _bad_lots(uow: UnitOfWork) -> list[_News]:
    """A lot found bad that is on parts already."""
    found = []
    for lot in uow.once("lots", lambda: uow.all(Lot)):
        why = found_bad(uow, lot.id)
        if why is None:
            continue
        parts = [key for batch, _ in made_of(uow, lot) for key, _ in where_it_went(uow, batch) if key]
        names = [uow.get(Part, key).name for key in dict.fromkeys(parts)]
        if names:
            product = uow.get(DataSheet, lot.data_sheet_id).name
            words = f"Lot {lot.lot_number} of {product} was found bad ({why}): it is on {joined(names)}."
            mark = notes_of_lot(uow, lot.id)[-1]
            news = _News(
                "lot", f"lot/{lot.id}/{mark.id}", f"/stores/{lot.data_sheet_id}", words, minute_of(mark.happened_at)
            )
            found.append(news)
    return found


def _stood(cup: OpenCup, minute: float) -> _News:
    words = f"{cup.product} has stood long enough: use it within {minute_of(cup.until) - minute:.0f} min."
    return _News("cup", f"cup/{cup.batch_id}/stood", f"/mix?batch={cup.batch_id}", words, minute)


def _silent(uow: UnitOfWork, minute: float) -> list[_News]:
    """A zone whose probe read before and says nothing now."""
    found = []
    for zone in zones(uow):
        last = last_reading(uow, zone.id, "probe")
        if last is None:
            continue
        since = minute_of(last)
        if minute - since > SILENT_MIN:
            words = (
                f"The probe of the {zone.name.lower()} has said nothing for {(minute - since) / 60:.1f} h; "
                "what is expected counts."
            )
            found.append(_News("silent", f"silent/{zone.id}/{last.isoformat()}", "/air", words, minute))
    return found
