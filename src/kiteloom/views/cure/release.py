"""How a step's witnesses stand, in words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import tzinfo
from typing import Literal

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.problems import plain
from kiteloom.core.base.quantities import show
from kiteloom.core.cure.witness import Release, release
from kiteloom.core.stores.sheets import said
from kiteloom.store.models import Batch, Witness
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.mixes import on_steps, why_spoilt
from kiteloom.workshop.log.witness import as_mix, as_reading, batches_that_count, standing_readings
from kiteloom.workshop.stores.lots import versions_of


@dataclass(frozen=True)
class WitnessRow:
    """One mix's witness: what it is, how it was last found. ``spoilt``: it waits for a decision, not for a reading."""

    batch_id: str
    words: str
    found: str
    state: Literal["unread", "soft", "hard", "spoilt"]


@dataclass(frozen=True)
class ReadingRow:
    """One reading as it was taken."""

    id: str
    words: str


@dataclass(frozen=True)
class ReleaseView:
    """What stands between a part and its next step. ``signed`` says who decided, where somebody did."""

    part_id: str
    step_key: str
    released: bool
    sentence: str
    rows: list[WitnessRow]
    signed: str
    readings: list[ReadingRow]
    """All that was read of it and counts, the newest first."""
    again: str
    """When it is to be read again, where it was found soft."""


def release_view(uow: UnitOfWork, part_id: str, step_key: str) -> ReleaseView | None:
    """How a step's witnesses stand; None where no mix is on it."""
    mixes = on_steps(uow).get((part_id, step_key), [])
    if not mixes:
        return None
    units, zone = units_of(uow), zone_here(uow)
    rows = [row for row in standing_readings(uow) if (row.part_id, row.step_key) == (part_id, step_key)]
    counts = batches_that_count(uow)
    stands = release([as_mix(mix) for mix in mixes], [as_reading(row, counts) for row in rows])
    views = []
    for mix in mixes:
        batch = mix.batch
        mine = [
            r for r in rows if r.happened_at >= batch.happened_at and r.batch_id in (None, *versions_of(uow, batch))
        ]
        mixed = when(minute_of(batch.happened_at), zone)
        words = f"{show(mix.grams, 'mass', units)} of {batch.product}, {mixed}"
        spoilt = why_spoilt(uow, batch)
        words += f": {spoilt}" if spoilt else ""
        read = [row for row in mine if row.kind != "tap"]
        state: Literal["unread", "soft", "hard", "spoilt"] = "unread"
        if batch.id in stands.spoilt:
            state = "spoilt"
        elif read:
            state = "hard" if read[-1].passes else "soft"
        views.append(WitnessRow(batch.id, words, _found(mine[-1], zone) if mine else "not read yet", state))
    decided = next((r for r in reversed(rows) if r.kind == "decision"), None)
    signed = ""
    if decided is not None and decided.crew_member is not None:
        verb = "released it" if decided.passes else "held it"
        signed = f"{decided.crew_member.name} {verb}: {decided.note}"
    return ReleaseView(
        part_id,
        step_key,
        stands.released,
        _sentence(stands, [row for row in views if row.state == "spoilt"], len(mixes)),
        views,
        signed,
        [ReadingRow(row.id, _of_batch(uow, row, counts, zone)) for row in reversed(rows)],
        f"Read it again from {when(stands.again_at, zone)}." if stands.again_at is not None else "",
    )


def _of_batch(uow: UnitOfWork, row: Witness, counts: Mapping[str, str], zone: tzinfo) -> str:
    """A reading, and of which mix."""
    found = _found(row, zone)
    if row.batch_id is None:
        return f"All mixes: {found}: {row.note}"
    mixed = when(minute_of(uow.get(Batch, counts.get(row.batch_id, row.batch_id)).happened_at), zone)
    return f"The mix of {mixed}: {found}"


def _found(row: Witness, zone: tzinfo) -> str:
    at = when(minute_of(row.happened_at), zone)
    return f"{pressed_words(row)} ({at}{f', {row.crew_member.name}' if row.crew_member else ''})"


def pressed_words(row: Witness) -> str:
    """What a reading found, or that somebody decided."""
    result = {
        "thumbnail": "thumbnail leaves no mark" if row.passes else "thumbnail leaves a mark",
        "hardness": f"hardness {row.value:g}" if row.value is not None else "hardness",
        "tap": "rings when tapped: no void heard" if row.passes else "sounds dull when tapped: look for a void",
        "decision": "decided",
    }[row.kind]
    if row.kind == "hardness":
        least = said(row.batch.says, "hardness.least") if row.batch else None
        scale = said(row.batch.says, "hardness.scale") if row.batch else None
        result += f" {scale}" if scale else ""
        result += ", hard enough" if row.passes else ", not hard enough"
        result += f" (its sheet asks for {plain(least)})" if least is not None else ""
    return result


def _sentence(stands: Release, spoilt: list[WitnessRow], count: int) -> str:
    if spoilt:
        return (
            f"Not released: {spoilt[0].words}. It can be hard and still be weak: no reading releases it and no hour "
            "of its sheet holds. Scrape it off while it is wet, or somebody decides, and signs why."
        )
    if stands.released and stands.decided_at is not None:
        return "Released by a decision that somebody signed, not by a reading."
    if stands.released:
        return "Released: every batch was read and found hard." if count > 1 else "Released: read and found hard."
    if stands.soft:
        return f"Not released: {len(stands.soft)} of {count} found soft. Let it cure on, and read again."
    cups = "the witness" if count == 1 else f"{len(stands.unread)} of {count} witnesses"
    return f"Not released yet: read {cups} first. The clock only says from when."
