"""A part's checks: what is asked, what was read, before and after side by side, what was decided, the other parts."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.checks import MEASURES, apart_words, judged, moved_words
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Ring
from kiteloom.core.shape.section import Point
from kiteloom.store.models import CrewMember, Measured, Part, PartCheck
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.checks import Moment, Reads, check_of, checks_for, steps_of_moments
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.build.mending import mends
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.measured import last_of, measured_rows, rulings
from kiteloom.workshop.log.photos import photos_of
from kiteloom.workshop.log.set_again import begun
from kiteloom.workshop.shape.shapes import form_of


@dataclass(frozen=True)
class PlaceView:
    """A place that is read: what is asked, as text to be edited and in words, and where it lies along the part [m]."""

    name: str
    nominal: str
    asked: str
    at: str
    at_m: float | None
    mark: Point | None
    """Where that is on the part's outline [m]."""


@dataclass(frozen=True)
class FoundView:
    """One value: as it was read, how far off, and whether it holds."""

    found: str
    off: str
    holds: bool
    share: float
    """How far off, as a share of the tolerance on that side: 1 is at its end."""


@dataclass(frozen=True)
class ReadingView:
    """All places read at one moment, in sentences; and what was decided where it is out of tolerance."""

    id: str
    moment: Moment
    values: list[FoundView]
    holds: bool
    says: list[str]
    photos: list[str]
    who: str
    decided: str
    """accept, mend or redo; ``""`` while nothing was."""
    decision: str


@dataclass(frozen=True)
class OtherPart:
    """The same check on another part of the design, as it was read there last."""

    part_id: str
    name: str
    moment: Moment
    values: list[FoundView]


@dataclass(frozen=True)
class MomentView:
    """When a check is read: before, between or after steps, or once; and the step that is that reading, else ``""``."""

    moment: Moment
    step_key: str


@dataclass(frozen=True)
class CheckView:
    """One check; ``moments`` are when it is read, in order, and the step each goes with."""

    id: str
    version: int
    name: str
    kind: str
    unit: str
    sixteenths: bool
    low: str
    high: str
    tolerance: str
    after_key: str
    after: str
    reads: Reads
    moments: list[MomentView]
    places: list[PlaceView]
    readings: list[ReadingView]
    earlier: int
    """How many readings were replaced by later ones."""
    moved: str
    apart: str
    """Where it differs most from the others of its kind, one sentence each, three at most."""
    others: list[OtherPart]
    mends: str
    """What goes into the plan where its last reading is to be mended; ``""`` where nothing does by itself."""


@dataclass(frozen=True)
class KindView:
    """A kind of reading that a check can have."""

    kind: str
    label: str
    unit: str


@dataclass(frozen=True)
class ChecksView:
    """The checks of a part, and what is needed to say another."""

    part_id: str
    outline: tuple[Ring, ...]
    loft: bool
    shared: list[str]
    checks: list[CheckView]
    away: list[Choice]
    kinds: list[KindView]
    steps: list[Choice]
    people: list[Choice]
    caution: str


#: What is said of what was decided about a reading out of tolerance.
RULED = {"accept": "Accepted as it is", "mend": "To be mended", "redo": "To be done again"}

_CAUTION = (
    "Nominals and tolerances are the kit maker’s or the designer’s; deciding that something stays out of tolerance is "
    "for whoever answers for the airframe, and a licensed inspector."
)


def checks_view(uow: UnitOfWork, part_id: str) -> ChecksView:
    """The checks of a part."""
    part, built, units = uow.get(Part, part_id), built_part(uow, part_id), units_of(uow)
    others = [one for one in uow.all(Part, Part.rank) if one.design_id == part.design_id and one.id != part.id
              and one.hidden_at is None]  # fmt: skip
    names = {step.key: step.name for step in built.steps}
    hidden = [row for row in uow.all(PartCheck, PartCheck.name) if row.design_id == part.design_id and row.hidden_at]
    form = form_of(part.design.shape) if part.design.shape is not None else None
    return ChecksView(
        part_id,
        form.outline(hand_of(part)) if form is not None else (),
        form is not None and form.kind == "loft",
        [one.name for one in others],
        [_check(uow, row, part, built, form, others, units) for row in checks_for(uow, built)],
        [Choice(row.id, row.name) for row in hidden],
        [KindView(kind, one.asked.label, one.asked.unit_for(units)) for kind, one in MEASURES.items()],
        [Choice(key, name) for key, name in names.items()],
        [Choice(row.id, row.name) for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None],
        _CAUTION,
    )


def _check(
    uow: UnitOfWork,
    row: PartCheck,
    part: Part,
    built: BuiltPart,
    form: Shape | None,
    others: list[Part],
    units: UnitSystem,
) -> CheckView:
    check, asked, shows = check_of(row), MEASURES[row.kind].asked, MEASURES[row.kind].shows
    mine = measured_rows(uow).get((part.id, row.id), [])
    names = {step.key: step.name for step in built.steps}
    steps = steps_of_moments(built, row)
    last = [reading for moment in steps if (reading := last_of(mine, moment)) is not None]
    both = last[-2:] if len(last) > 1 else []
    # After both skins of a panel, nothing pulls it back any more.
    to_come = row.reads != "each" or (bool(last) and last[-1].moment != next(reversed(steps)))
    beside, apart = [], []
    for one in others:
        theirs = measured_rows(uow).get((one.id, row.id), [])
        found = next((reading for moment in reversed(steps) if (reading := last_of(theirs, moment))), None)
        if found is not None:
            moment: Moment = found.moment  # type: ignore[assignment]  # one of its words
            beside.append(OtherPart(one.id, one.name, moment, _values(row, found, units)))
        # Alike are only readings of the same moment.
        same = last_of(theirs, last[-1].moment) if last else None
        apart += [apart_words(check, last[-1].values, same.values, one.name, units)] if same else []
    unit = asked.unit_for(units)
    return CheckView(
        row.id,
        row.version,
        row.name,
        row.kind,
        unit,
        unit == "in",
        _bare(asked.text(row.low, units), unit),
        _bare(asked.text(row.high, units), unit),
        f"from {_signed(row.low, shows, units)} to {_signed(row.high, shows, units)}",
        row.after_key,
        names.get(row.after_key, "a step it does not have any more") if row.after_key else "",
        row.reads,  # type: ignore[arg-type]  # one of its words
        [MomentView(moment, key if row.reads == "each" else "") for moment, key in steps.items()],
        [
            PlaceView(point.name, _bare(asked.text(point.nominal, units), unit), show(point.nominal, shows, units),
                      show(point.at_m, "length", units) if point.at_m is not None else "", point.at_m,
                      _mark(form, point.at_m, part))
            for point in check.points
        ],
        [_reading(uow, row, reading, units) for reading in last],
        len(mine) - len(last),
        moved_words(check, both[0].values, both[1].values, units, to_come=to_come) if both else "",
        " ".join(words for words in apart[:3] if words),
        beside,
        _mends(uow, part.id, row, last),
    )  # fmt: skip


def _mends(uow: UnitOfWork, part_id: str, row: PartCheck, last: list[Measured]) -> str:
    part = built_part(uow, part_id)
    job = mends(part, row, last[-1].moment) if last else None
    if job is None or job.recipe is None or job.recipe.again is None or not begun(uow, part, job):
        return ""
    return job.recipe.again.words


def _mark(form: Shape | None, at_m: float | None, part: Part) -> Point | None:
    """Where a place lies on the part's outline [m]; None where nothing is drawn, or it lies beyond."""
    if form is None or at_m is None or form.span_m <= 0 or at_m > form.span_m * 1.02:
        return None
    return form.point(min(at_m / form.span_m, 1.0), 0.5, hand_of(part))


def _bare(text: str, unit: str) -> str:
    return text.removesuffix(unit).strip()


def _signed(value: float, shows: str, units: UnitSystem) -> str:
    return f"{'+' if value > 0 else ''}{show(value, shows, units)}"


def _values(row: PartCheck, reading: Measured, units: UnitSystem) -> list[FoundView]:
    shows = MEASURES[row.kind].shows
    return [
        FoundView("", "", holds=True, share=0.0) if one.found is None or one.off is None else
        FoundView(show(one.found, shows, units), _signed(one.off, shows, units), one.holds, one.share)
        for one in judged(check_of(row), reading.values, units).rows
    ]  # fmt: skip


def _reading(uow: UnitOfWork, row: PartCheck, reading: Measured, units: UnitSystem) -> ReadingView:
    verdict = judged(check_of(row), reading.values, units)
    zone = zone_here(uow)
    who = (
        f"{when(minute_of(reading.happened_at), zone)}{f', {reading.crew_member.name}' if reading.crew_member else ''}"
    )
    decided = rulings(uow).get(reading.id)
    said = ""
    if decided is not None:
        at = when(minute_of(decided.happened_at), zone)
        said = f"{RULED[decided.kind]}, {decided.crew_member.name}, {at}: {decided.note}"
    moment: Moment = reading.moment  # type: ignore[assignment]  # one of its words
    return ReadingView(
        reading.id,
        moment,
        _values(row, reading, units),
        verdict.holds,
        [*verdict.says, *([reading.note] if reading.note else [])],
        photos_of(uow, "reading", [reading.id]).get(reading.id, []),
        who,
        decided.kind if decided is not None else "",
        said,
    )
