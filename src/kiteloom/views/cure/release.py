"""How a step's witnesses stand, in words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import tzinfo
from typing import Literal

from kiteloom.core.base.calendar import minute_of, when, zone_of
from kiteloom.core.base.quantities import show
from kiteloom.core.cure.witness import Release, release
from kiteloom.store.models import Witness
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import the_shop, units_of
from kiteloom.workshop.log.witness import as_reading, batches_that_count, standing_readings
from kiteloom.workshop.stores.lots import standing_batches, versions_of


@dataclass(frozen=True)
class WitnessRow:
    """One batch's witness: what it is, how it was last found."""

    batch_id: str
    words: str
    found: str
    state: Literal["unread", "soft", "hard"]


@dataclass(frozen=True)
class ReleaseView:
    """What stands between a part and its next step. ``signed`` says who decided, where somebody did."""

    part_id: str
    step_key: str
    released: bool
    sentence: str
    rows: list[WitnessRow]
    signed: str


def release_view(uow: UnitOfWork, part_id: str, step_key: str) -> ReleaseView | None:
    """How a step's witnesses stand; None where nothing was mixed for it."""
    batches = [b for b in standing_batches(uow) if (b.part_id, b.step_key) == (part_id, step_key)]
    if not batches:
        return None
    units, zone = units_of(uow), zone_of(the_shop(uow).zone)
    rows = [row for row in standing_readings(uow) if (row.part_id, row.step_key) == (part_id, step_key)]
    counts = batches_that_count(uow)
    stands = release([(b.id, minute_of(b.happened_at)) for b in batches], [as_reading(row, counts) for row in rows])
    views = []
    for batch in batches:
        mine = [
            r for r in rows if r.happened_at >= batch.happened_at and r.batch_id in (None, *versions_of(uow, batch))
        ]
        mixed = when(minute_of(batch.happened_at), zone)
        words = f"{show(batch.resin_g + batch.hardener_g, 'mass', units)} of {batch.product}, {mixed}"
        state: Literal["unread", "soft", "hard"] = "unread"
        if mine:
            state = "hard" if mine[-1].passes else "soft"
        views.append(WitnessRow(batch.id, words, _found(mine[-1], zone) if mine else "not read yet", state))
    decided = next((r for r in reversed(rows) if r.kind == "decision"), None)
    signed = ""
    if decided is not None and decided.crew_member is not None:
        verb = "released it" if decided.passes else "held it"
        signed = f"{decided.crew_member.name} {verb}: {decided.note}"
    return ReleaseView(part_id, step_key, stands.released, _sentence(stands, len(batches)), views, signed)


def _found(row: Witness, zone: tzinfo) -> str:
    at = when(minute_of(row.happened_at), zone)
    who = f", {row.crew_member.name}" if row.crew_member else ""
    result = {
        "thumbnail": "thumbnail leaves no mark" if row.passes else "thumbnail leaves a mark",
        "hardness": f"hardness {row.value:g}" if row.value is not None else "hardness",
        "tap": "rings when tapped" if row.passes else "sounds dull when tapped",
        "decision": "decided",
    }[row.kind]
    if row.kind == "hardness":
        result += ", hard enough" if row.passes else ", not hard enough"
    return f"{result} ({at}{who})"


def _sentence(stands: Release, count: int) -> str:
    if stands.released:
        return "Released: every batch was read and found hard." if count > 1 else "Released: read and found hard."
    if stands.soft:
        return f"Not released: {len(stands.soft)} of {count} found soft. Let it cure on, and read again."
    cups = "the witness" if count == 1 else f"{len(stands.unread)} of {count} witnesses"
    return f"Not released yet: read {cups} first. The clock only says from when."
