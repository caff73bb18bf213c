"""The build record of a part, or of a whole airframe: what was done, by whom, with what, and what was found."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime, time, timedelta

from kiteloom.core.base.calendar import day_words, lasting, minute_of, moment_of, time_words
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show, system_of
from kiteloom.core.build.step_id import StepId
from kiteloom.core.log.logbook import Entry
from kiteloom.formats.record_pdf import Record, RecordCurve, RecordGlueLine, RecordLine, RecordPart, record_pdf
from kiteloom.store.models import Job, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.cure.cards import card_of
from kiteloom.views.logbook.logbook import written
from kiteloom.views.logbook.of_parts import sounds
from kiteloom.views.logbook.of_work import worked
from kiteloom.views.logbook.pen import Pen
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.job_edits import name_of
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.coin_taps import taps_by_part
from kiteloom.workshop.log.digests import NOTHING, digest, facts_by_part
from kiteloom.workshop.log.photos import photo
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.shape.shapes import form_of

#: The parts of a page, and the kinds of entries that stand in each.
SECTIONS = (
    ("Work", ("work",)),
    ("Mixes", ("mix",)),
    ("Readings", ("reading",)),
    ("Found wrong, decided, signed", ("wrong", "decision")),
    ("Before it was closed", ("closing",)),
    ("Came for it", ("stores",)),
    ("Notes and questions", ("note", "question")),
)
_FOOT = (
    "A digest is over the facts of a part as they are kept, within what is printed here, chained to the digest "
    "before it (SHA-256). Printed again with a fact that was changed, its digest and all after it differ.",
    "Kite Loom computes and records; it approves nothing. The kit maker’s and material maker’s instructions, "
    "local rules and the licensed inspector decide.",
)
#: So many points a curve has on paper at most.
_POINTS = 240


def record_of(uow: UnitOfWork, parts: Sequence[str], since: date | None, until: date | None, now: datetime) -> Record:
    """The record of some parts, all of one airframe or some of it, whole or of a period of days.

    What was chained is in the order of the parts' ranks.
    """
    pen = Pen.of(uow)
    first = datetime.combine(since, time(), pen.zone) if since else datetime.fromtimestamp(0, pen.zone)
    over = datetime.combine(until, time.max, pen.zone) if until else now + timedelta(minutes=1)
    span = minute_of(first), minute_of(over)
    rows = [uow.get(Part, part) for part in parts]
    airframe = uow.get(Project, rows[0].assembly.project_id).name
    of_part: dict[str, list[Entry]] = defaultdict(list)
    for entry in written(pen):
        if span[0] <= entry.at < span[1]:
            of_part[entry.part].append(entry)
    hours = _hours(pen, parts, span, minute_of(now))
    facts, shop, chained = facts_by_part(uow, first, over), shop_plan(uow, minute_of(now)), NOTHING
    found = []
    for row in rows:
        mine = of_part[row.id]
        if not mine and len(rows) > 1:
            continue  # nothing was done of it yet
        chained = digest(facts.get(row.id, []), chained)
        found.append(_part(pen, row, mine, _of_one(hours, row.id), shop, span, chained))
    title = f"Build record, {rows[0].name if len(rows) == 1 else airframe}"
    days = [f"from {_day(pen, since)}"] if since else []
    days += [f"until {_day(pen, until)}"] if until else []
    head = f"{airframe}, {' '.join(days) or 'all of it'}. Printed {_day(pen, now.astimezone(pen.zone).date())}."
    return Record(title, head, _built(pen, hours), found, _FOOT)


def record_of_part(uow: UnitOfWork, part_id: str, since: date | None, until: date | None, now: datetime) -> bytes:
    """One part's, as a document."""
    return _printed(uow, record_of(uow, [uow.get(Part, part_id).id], since, until, now))


def record_of_airframe(
    uow: UnitOfWork, airframe_id: str, since: date | None, until: date | None, now: datetime
) -> bytes:
    """An airframe's, as a document: its parts that something was done of, those that were taken out too."""
    airframe = uow.get(Project, airframe_id)
    parts = [row.id for row in uow.all(Part, Part.rank) if row.assembly.project_id == airframe.id]
    if not parts:
        raise Refused("airframe_id", f"{airframe.name} has no part yet; there is nothing to be printed")
    return _printed(uow, record_of(uow, parts, since, until, now))


def _printed(uow: UnitOfWork, record: Record) -> bytes:
    return record_pdf(record, letter=system_of(units_of(uow)) == "us")


def _day(pen: Pen, day: date) -> str:
    return day_words(day, pen.zone, year=True)


Hours = Mapping[tuple[str, str, str], float]


def _hours(pen: Pen, parts: Iterable[str], span: tuple[float, float], now: float) -> Hours:
    """Minutes of work by part, kind of job and person, within a span."""
    jobs = {(job.part_id or job.design_id, job.key): name_of(job) for job in pen.uow.all(Job)}
    designs, wanted = {row.id: row.design_id for row in pen.uow.all(Part)}, set(parts)
    found: dict[tuple[str, str, str], float] = defaultdict(float)
    for stretch in worked(pen).stretches:
        start, end = stretch.until(now)
        minutes = min(end, span[1]) - max(start, span[0])
        if stretch.part in wanted and minutes > 0:
            job = StepId.within(stretch.part, stretch.step).job
            kind = jobs.get((stretch.part, job)) or jobs.get((designs[stretch.part], job)) or "Other work"
            for person in stretch.people:
                found[stretch.part, kind, person] += minutes
    return found


def _built(pen: Pen, hours: Hours) -> list[list[str]]:
    """Who built it: a row for each kind of work, a column for each person, and the sums."""
    people = sorted({person for _, _, person in hours}, key=pen.name)
    kinds = sorted({kind for _, kind, _ in hours})
    if not people:
        return []

    def told(kind: str, person: str) -> str:
        minutes = sum(spent for (_, of, who), spent in hours.items() if kind in ("", of) and person in ("", who))
        return lasting(minutes) if minutes >= 1 else ""

    rows = [[kind or "Together", *(told(kind, person) for person in (*people, ""))] for kind in (*kinds, "")]
    return [["Hours", *(pen.name(person) for person in people), "Together"], *rows]


def _of_one(hours: Hours, part: str) -> str:
    minutes = sum(spent for (of, _, _), spent in hours.items() if of == part)
    return lasting(minutes) if minutes >= 1 else ""


def _part(
    pen: Pen,
    part: Part,
    entries: Sequence[Entry],
    hours: str,
    shop: ShopPlan | None,
    span: tuple[float, float],
    chained: str,
) -> RecordPart:
    sections = [(title, [_line(pen, entry) for entry in entries if entry.kind in kinds]) for title, kinds in SECTIONS]
    shots = [(entry, key) for entry in entries for key in entry.photos]
    out = " It was taken out of the airframe." if part.hidden_at is not None else ""
    built = shop.parts.get(part.id) if shop is not None else None
    jobs = f" Jobs: {', then '.join(job.name for job in built.jobs)}." if built is not None and built.jobs else ""
    return RecordPart(
        pen.name(part.id),
        f"{part.assembly.name}. {f'{hours} of work.' if hours else 'No hours were noted.'}{jobs}{out}",
        form_of(part.design.shape).outline(hand_of(part)) if part.design.shape is not None else (),
        _glue(pen, built, span) if built is not None else None,
        hours,
        [(title, lines) for title, lines in sections if lines],
        _curves(pen, part.id, shop, span) if shop is not None else [],
        [
            (f"{_when(pen, entry)}: {entry.of or entry.words}", photo(pen.uow, key, small=True)[1])
            for entry, key in shots
        ],
        chained,
    )


def _glue(pen: Pen, part: BuiltPart, span: tuple[float, float]) -> RecordGlueLine | None:
    """A joint's glue line, as it was tapped last; None where it is none, or nobody said how long it is."""
    task = part.bonding.task if part.bonding is not None else None
    if task is None:
        return None
    units, line = units_of(pen.uow), task.given
    size = " × ".join((show(line.length_m, "length", units), show(1000 * line.width_m, "step", units)))
    words = f"Glue line, {size}, {show(line.thickness_mm, 'thickness', units)} thick."
    taps = [tap for tap in taps_by_part(pen.uow).get(part.id, ()) if span[0] <= minute_of(tap.happened_at) < span[1]]
    if not taps:
        return RecordGlueLine(f"{words} It was not tapped.", line.length_m, line.width_m)
    tap, voids = taps[-1], [(along, across) for along, across in taps[-1].voids]
    local = moment_of(minute_of(tap.happened_at), pen.zone)
    tapped = f"Tapped {day_words(local.date(), pen.zone, year=True)} {time_words(local)}. {sounds(tap)}"
    return RecordGlueLine(f"{words} {tapped}", line.length_m, line.width_m, tap.along, tap.across, voids)


def _when(pen: Pen, entry: Entry) -> str:
    local = moment_of(entry.at, pen.zone)
    return f"{day_words(local.date(), pen.zone, year=True)} {time_words(local)}"


def _line(pen: Pen, entry: Entry) -> RecordLine:
    of = f"{entry.of}. " if entry.of else ""
    more = " ".join((*entry.sub, entry.corrects, f"{entry.against}." if entry.against else "")).strip()
    return RecordLine(_when(pen, entry), f"{of}{entry.words} {more}".strip(), pen.signed(entry), bool(entry.against))


def _curves(pen: Pen, part: str, shop: ShopPlan, span: tuple[float, float]) -> list[RecordCurve]:
    """Each cure the part had, at the temperature that was recorded or is expected."""
    found = []
    for placed in shop.by_part.get(part, []):
        if (
            placed.cure is None
            or placed.mixed is None
            or placed.state != "done"
            or not span[0] <= placed.mixed < span[1]
        ):
            continue
        card = card_of(pen.uow, shop, placed)
        begun = minute_of(card.thread.start)
        warm = [((minute_of(one.at) - begun) / 60, one.c) for one in card.ribbon if minute_of(one.at) >= begun]
        if len(warm) < 2:
            continue
        knots = [(knot.name, (minute_of(knot.at) - begun) / 60) for knot in card.knots if knot.at is not None]
        over = max((hour for _, hour in knots), default=warm[-1][0]) + 2
        warm = [(hour, c) for hour, c in warm if hour <= over]
        points = warm[:: max(len(warm) // _POINTS, 1)]
        celsius = [c for _, c in points]
        low, high = (show(c, "temperature", pen.units) for c in (min(celsius), max(celsius)))
        words = f"{card.product} on “{card.name}”, mixed last {pen.at(card.thread.start)}"
        words += "".join(f"; {knot.name} {pen.at(knot.at)}" for knot in card.knots if knot.at is not None)
        if card.recorded_until is not None and points[-1][0] > (minute_of(card.recorded_until) - begun) / 60:
            words += f". From {pen.at(card.recorded_until)} on the temperature is expected, not read"
        found.append(RecordCurve(f"{words}.", points, knots, low, high))
    return found
