"""The book's entries of what was read on parts, closed, found wrong and decided."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import Protocol

from sqlalchemy import select

from kiteloom.core.base.calendar import day_words, minute_of
from kiteloom.core.build.checks import MEASURES, judged
from kiteloom.core.build.recipes import RECIPES
from kiteloom.core.log.logbook import Entry, Kind
from kiteloom.store.models import (
    CoinTap,
    Decision,
    Deviation,
    DryFit,
    GateNote,
    HingeReading,
    Iron,
    IronReading,
    Job,
    Judgement,
    Measured,
    Part,
    PartCheck,
    PartTemperature,
    TankRead,
    TapRuling,
    Weighing,
    Witness,
    Work,
)
from kiteloom.views.cure.release import pressed_words
from kiteloom.views.gates import TOLD
from kiteloom.views.logbook.pen import Pen
from kiteloom.views.part.checks import RULED
from kiteloom.views.part.coin_tap import VOIDS_RULED
from kiteloom.workshop.build.checks import check_of
from kiteloom.workshop.build.job_edits import name_of
from kiteloom.workshop.log.gates import wanted_key


class _OfPart(Protocol):
    id: str
    part_id: str
    happened_at: datetime


def _entry(
    pen: Pen,
    row: _OfPart,
    kind: Kind,
    of: str,
    words: str,
    *,
    step: str = "",
    who: str | None = None,
    sub: tuple[str, ...] = (),
    products: tuple[str, ...] = (),
    lots: tuple[str, ...] = (),
    corrects: str = "",
    against: str = "",
) -> Entry:
    people = (who,) if who else ()
    return Entry(
        row.id, kind, minute_of(row.happened_at), of, words, row.part_id, step, people, products, lots,
        tuple(line for line in sub if line), corrects, against or pen.against(row.id), pen.photos(row.id),
    )  # fmt: skip


def witnesses(pen: Pen) -> Iterator[Entry]:
    """Readings that release a step, and what was decided instead of one."""
    rows = {row.id: row for row in pen.uow.all(Witness)}
    corrected = {row.corrects_id: row for row in rows.values() if row.corrects_id}
    for row in rows.values():
        later, was = corrected.get(row.id), rows.get(row.corrects_id or "")
        mix = f"The mix of {row.batch.product} of {pen.at(row.batch.happened_at)}" if row.batch else "What was mixed"
        kind: Kind = "decision" if row.kind == "decision" else "reading"
        yield _entry(
            pen, row, kind, mix, _pressed(row), step=row.step_key, who=row.crew_member_id, sub=(row.note,),
            products=(row.batch.data_sheet_id,) if row.batch else (),
            lots=tuple(lot for lot in (row.batch.lot_id, row.batch.hardener_lot_id) if lot) if row.batch else (),
            corrects=f"It was written as: {_pressed(was)}" if was is not None else "",
            against=f"Corrected {pen.at(later.recorded_at)}" if later is not None else "",
        )  # fmt: skip


def _pressed(row: Witness) -> str:
    if row.kind == "decision":
        return "Released by a decision." if row.passes else "Held by a decision."
    words = pressed_words(row)
    return f"{words[:1].upper()}{words[1:]}."


def measured(pen: Pen) -> Iterator[Entry]:
    """Readings against their nominal, and what was decided of those out of tolerance."""
    checks = {row.id: row for row in pen.uow.all(PartCheck)}
    rows = {row.id: row for row in pen.uow.all(Measured)}
    for row in rows.values():
        check = check_of(checks[row.check_id])
        if len(check.points) == len(row.values):
            shows = MEASURES[checks[row.check_id].kind].shows
            found = judged(check, row.values, pen.units)
            each = [f"{one.point.name}: {pen.show(one.found, shows)}" for one in found.rows if one.found is not None]
            words, sub = " ".join(found.says), (f"{'; '.join(each)}.", row.note)
        else:
            words, sub = f"{len(row.values)} places were read; its places were changed since.", (row.note, "")
        moment = "" if row.moment == "once" else f", {row.moment}"
        of = f"{checks[row.check_id].name}{moment}"
        yield _entry(pen, row, "reading", of, words, who=row.crew_member_id, sub=sub)
    for rule in pen.uow.all(Judgement):
        reading = rows[rule.measured_id]
        yield Entry(
            rule.id, "decision", minute_of(rule.happened_at), checks[reading.check_id].name,
            f"{RULED[rule.kind]}: {rule.note}", reading.part_id, people=(rule.crew_member_id,),
        )  # fmt: skip


def sounds(tap: CoinTap) -> str:
    """How a glue line sounded all over."""
    whole = tap.along * tap.across
    return f"{len(tap.voids)} of {whole} places sound dull." if tap.voids else f"All {whole} places ring."


def taps(pen: Pen) -> Iterator[Entry]:
    """Glue lines that were tapped, and what was decided of voids."""
    rows = {row.id: row for row in pen.uow.all(CoinTap)}
    for row in rows.values():
        yield _entry(pen, row, "reading", "Tapped with a coin", sounds(row), who=row.crew_member_id, sub=(row.note,))
    for rule in pen.uow.all(TapRuling):
        part = rows[rule.coin_tap_id].part_id
        yield Entry(
            rule.id, "decision", minute_of(rule.happened_at), "Voids in its glue line",
            f"{VOIDS_RULED[rule.kind]}: {rule.note}", part, people=(rule.crew_member_id,),
        )  # fmt: skip


def weighed(pen: Pen) -> Iterator[Entry]:
    """Weighings, and control surfaces held level on their hinge."""
    jobs = {(job.part_id or job.design_id, job.key): name_of(job) for job in pen.uow.all(Job)}
    designs = {part.id: part.design_id for part in pen.uow.all(Part)}
    for row in pen.uow.all(Weighing):
        job = jobs.get((row.part_id, row.job_key)) or jobs.get((designs[row.part_id], row.job_key), "a job of it")
        of = f"Weighed {row.moment} {job.lower()}" if row.job_key else "Weighed whole"
        yield _entry(pen, row, "reading", of, f"{pen.show(row.grams, 'mass')}.", sub=(row.note,))
    for hinge in pen.uow.all(HingeReading):
        heavy = "tail" if hinge.grams >= 0 else "nose"
        words = f"{pen.show(abs(hinge.grams), 'mass')} at {pen.show(1000 * hinge.arm_m, 'step')}, {heavy} heavy"
        words += f", with {pen.show(hinge.mounted_g, 'mass')} mounted" if hinge.mounted_g else ""
        yield _entry(pen, hinge, "reading", "Held level on its hinge", f"{words}.", sub=(hinge.note,))


def instruments(pen: Pen) -> Iterator[Entry]:
    """Tanks under pressure, dry fits, temperatures that were typed of a part, irons."""
    for tank in pen.uow.all(TankRead):
        words = f"{tank.gauge_kpa:.2f} kPa at {pen.show(tank.temp_c, 'temperature')}"
        words += f", barometer {tank.air_kpa:.2f} kPa" if tank.air_kpa is not None else ""
        of = "Pumped up" if tank.begins else "Under pressure"
        yield _entry(pen, tank, "reading", of, f"{words}.", sub=(tank.note,))
    for fit in pen.uow.all(DryFit):
        most = max((gap for _, gap in fit.gaps), default=0.0)
        words = f"{len(fit.gaps)} gaps, {pen.show(most, 'step')} at most."
        yield _entry(pen, fit, "reading", "Fitted dry", words, sub=(fit.note,))
    for warm in pen.uow.all(PartTemperature):
        if warm.source == "typed":
            yield _entry(pen, warm, "reading", "Its own temperature", f"{pen.show(warm.temp_c, 'temperature')}.")
    irons = {row.id: row.name for row in pen.uow.all(Iron)}
    for iron in pen.uow.all(IronReading):
        dial, warm_c = f"{iron.dial:g}", pen.show(iron.temp_c, "temperature")
        yield Entry(
            iron.id, "reading", minute_of(iron.happened_at), irons[iron.iron_id], f"At {dial} on its dial {warm_c}.",
            against=pen.against(iron.id),
        )  # fmt: skip


def closings(pen: Pen) -> Iterator[Entry]:
    """What was done before something is closed, who looked and signed, and the inspector."""
    verbs = {"add": "Put on the list", "done": "Done", "not needed": "Not needed", "open": "Open again", **TOLD}
    lines = _lines(pen)
    for row in pen.uow.all(GateNote):
        if row.kind == "list":
            continue
        day = f", for {row.day:%a} {day_words(row.day, pen.zone)}" if row.day else ""
        about = lines.get(row.line, "") if row.kind != "add" else ""
        words = ": ".join(said for said in (f"{verbs[row.kind]}{day}", about, row.note) if said)
        kind: Kind = "decision" if row.kind in ("sign", "seen", "reopen") else "closing"
        yield _entry(pen, row, kind, "Before it is closed", f"{words}.", step=row.step_key, who=row.crew_member_id)


def _lines(pen: Pen) -> Mapping[str, str]:
    """What the lines of closings say, by their keys: those that were added, of the shop's lists, and gathered ones."""
    found = {row.line or row.id: row.note for row in pen.uow.all(GateNote) if row.kind in ("add", "list")}
    found |= {wanted_key(words): words for recipe in RECIPES for words in recipe.before_closing}
    steps = pen.uow.session.execute(select(Work.step_key, Work.step_name).distinct())
    found |= {f"step:{key}"[:60]: name for key, name in steps}
    parts, of_design = {row.id: row for row in pen.uow.all(Part)}, defaultdict(list)
    for part in parts.values():
        of_design[part.design_id].append(part)
    for job in pen.uow.all(Job):
        for part in [parts[job.part_id]] if job.part_id else of_design[job.design_id or ""]:
            found[f"job:{part.id}:{job.key}"] = f"{pen.name(part.id)}: {name_of(job)}"
    return found


def found_wrong(pen: Pen) -> Iterator[Entry]:
    """What was found wrong or built otherwise, and what was decided about it."""
    rows = {row.id: row for row in pen.uow.all(Deviation)}
    for row in rows.values():
        of = "Built otherwise" if row.kind == "changed" else f"{row.kind[:1].upper()}{row.kind[1:]}"
        yield _entry(pen, row, "wrong", of, row.words, step=row.step_key, who=row.crew_member_id)
    verbs = {"accept": "Accepted", "mend": "To be mended", "scrap": "Scrapped", "open": "Opened again"}
    for rule in pen.uow.all(Decision):
        row = rows[rule.deviation_id]
        of = row.words or row.kind
        yield Entry(
            rule.id, "decision", minute_of(rule.happened_at), of, f"{verbs[rule.kind]}: {rule.note}", row.part_id,
            people=(rule.crew_member_id,) if rule.crew_member_id else (),
        )  # fmt: skip
