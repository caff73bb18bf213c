"""What a part weighs: predicted job by job, weighed, the difference explained; and a control surface on its hinge."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.recipe import no_wood
from kiteloom.core.shape.place import Place, middle_aft_m
from kiteloom.core.weight.balance import Weight, balance_of, balance_weight, hinge_moment
from kiteloom.core.weight.hinge import Hinge, Read, behind_hinge_m, judged
from kiteloom.core.weight.part import Band, Done, explained, fibre_share, predicted, stands, stays_figures
from kiteloom.store.models import Part, Weighing
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import AsText
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.jobs import BuiltJob
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.hinges import balance_care, hinge_of, hinge_readings, read_of
from kiteloom.workshop.log.weighings import jobs_weighed, weighings
from kiteloom.workshop.shape.shapes import form_of

HINGE_CARE = (
    "Flutter limits and the share that must be balanced belong to the designer; Kite Loom approves nothing. Repainted, "
    "repaired or filled means read again before it flies."
)


@dataclass(frozen=True)
class WeighedAt:
    """A weighing that counts."""

    id: str
    moment: str
    grams: float
    words: str


@dataclass(frozen=True)
class JobWeight:
    """What a job puts on: predicted, with its band in words, what was weighed round it, and what that says."""

    job: str
    name: str
    figures: tuple[Figure, ...]
    total: Figure
    band: str
    weighed: list[WeighedAt]
    says: str
    holds: bool
    fibre: Figure | None


@dataclass(frozen=True)
class HingeRow:
    """A reading on the hinge, and what it says."""

    id: str
    words: str
    says: str
    holds: bool


@dataclass(frozen=True)
class HingeView:
    """A control surface about its hinge: where that lies, predicted moment and balance weight, what was read."""

    version: int
    given: bool
    fields: list[AsText]
    figures: tuple[Figure, ...]
    readings: list[HingeRow]
    care: list[str]
    caution: str


@dataclass(frozen=True)
class WeightView:
    """What a part weighs now and when all is done, job by job; where its middle lies; and its hinge."""

    part_id: str
    version: int
    now: Figure
    whole: Figure
    band: str
    arm: Figure | None
    arm_text: AsText
    jobs: list[JobWeight]
    lacks: list[str]
    hinge: HingeView


def weight_view(uow: UnitOfWork, part_id: str) -> WeightView:
    """A part's weights."""
    row, part, units = uow.get(Part, part_id), built_part(uow, part_id), units_of(uow)
    done = jobs_weighed(uow, part)
    now, whole = stands(done)
    kept = weighings(uow, part_id)
    jobs = [_job(uow, part, n, done, kept) for n in range(len(part.jobs))]
    lacks = [f"{job.name}: {'; '.join(job.cant)}" for job in part.jobs if job.cant]
    lacks += [
        f"{job.name}: {_not_computed(job)}"
        for job in part.jobs
        if not job.cant and not job.stays and not any(one.job_key == job.key for one in kept)
    ]
    return WeightView(
        part_id,
        row.version,
        Figure("weighs_now", "Weighs now", now.grams, "mass", "its last weighing + what was put on since",
               tuple(Given(one.name, one.total.value or 0.0, "mass") for one in jobs)),
        Figure("weighs_done", "When all is done", whole.grams, "mass", "its last weighing + what is still to be put on",
               tuple(Given(one.name, one.total.value or 0.0, "mass") for one in jobs)),
        band_words(whole, units),
        arm_figure(row, part),
        AsText("arm", "Its middle aft of the nose", "" if row.arm_m is None else _metres(row.arm_m, units),
               "in" if units == "us" else "m"),
        jobs,
        lacks,
        _hinge(uow, row, part, whole, units),
    )  # fmt: skip


def _not_computed(job: BuiltJob) -> str:
    if job.recipe is not None and job.recipe.wood is not no_wood:
        return "say under What how thick its wood is, and what it weighs is computed; or weigh it after"
    return "what it weighs is not computed, weigh it after"


def _metres(value: float, units: UnitSystem) -> str:
    return asked_of(Place)["aft_m"][0].text(value, units)


def band_words(band: Band, units: UnitSystem) -> str:
    """Between what it is likely to lie; ``""`` where it was weighed."""
    if band.high - band.low < 0.5:
        return ""
    return f"{show(band.low, 'mass', units)} to {show(band.high, 'mass', units)}"


def arm_figure(part: Part, built: BuiltPart) -> Figure | None:
    """How far aft of the nose a part's middle lies; None where neither was typed nor follows from shape and place."""
    if part.arm_m is not None:
        return Figure("arm", "Its middle aft of the nose", part.arm_m, "length", "as typed")
    if part.design.shape is None or not part.place or part.design.shape.kind == "pieces":
        return None
    asked = asked_of(Place)
    place = Place(**{name: value for name, value in part.place.items() if name in asked})
    # The shape its jobs are built on is at hand already.
    form = next((job.task.form for job in built.jobs if job.task and job.task.form), None)
    aft = middle_aft_m(form or form_of(part.design.shape), place)
    given = (Given("its place aft of the nose", place.aft_m, "length"), Given("its span runs", place.lies, "words"))
    return Figure("arm", "Its middle aft of the nose", aft, "length", "its place + the middle of its outline", given)


def _job(uow: UnitOfWork, part: BuiltPart, n: int, done: list[Done], kept: list[Weighing]) -> JobWeight:
    job, units, zone = part.jobs[n], units_of(uow), zone_here(uow)
    band = predicted(job.stays)
    mine = [row for row in kept if row.job_key == job.key]
    says, holds, fibre = "", True, None
    before = done[n].before_g
    if before is None:
        before = stands(done[:n])[1].grams if n else 0.0
    after = done[n].after_g
    if after is not None and job.stays:
        added = after - before
        says, holds = explained(job.stays, added, _area(job), units)
        share = fibre_share(job.stays, added)
        if share is not None:
            given = (
                Given("weighed after", after, "mass"),
                Given("before", before, "mass", assumed=done[n].before_g is None and n > 0),
                *(Given(one.name, one.grams, "mass") for one in job.stays if one.kind in ("cloth", "core")),
            )
            fibre = Figure("fibre_share", "Fibre by weight", 100 * share, "share",
                           "cloth ÷ (added − core − what its faces take up)", given)  # fmt: skip
    return JobWeight(
        job.key,
        job.name,
        stays_figures(job.stays),
        Figure("job_weight", f"{job.name} puts on", band.grams, "mass", "Σ what stays of it",
               tuple(Given(one.name, one.grams, "mass") for one in job.stays)),
        band_words(band, units),
        [
            WeighedAt(row.id, row.moment, row.grams,
                      f"{show(row.grams, 'mass', units)} {row.moment} it, {when(minute_of(row.happened_at), zone)}"
                      f"{f'. {row.note}' if row.note else ''}")
            for row in mine
        ],
        says,
        holds,
        fibre,
    )  # fmt: skip


def _area(job: BuiltJob) -> float:
    if job.covered is not None:
        return max(job.covered.plies, default=0.0)
    if job.task is None or job.task.form is None:
        return 0.0
    try:
        return job.task.area_m2()
    except ValueError:
        return 0.0


def _hinge(uow: UnitOfWork, row: Part, part: BuiltPart, whole: Band, units: UnitSystem) -> HingeView:
    hinge, says = hinge_of(row), row.design.hinge
    fields = [
        AsText(name, asked.label, asked.text(says[name], units) if name in says else "", asked.unit_for(units))
        for name, (asked, _) in asked_of(Hinge).items()
    ]
    figures: tuple[Figure, ...] = ()
    if hinge is not None and row.design.shape is not None and row.design.shape.kind != "pieces" and whole.grams > 0:
        figures = _about(hinge, behind_hinge_m(form_of(row.design.shape), hinge), whole.grams)
    kept = hinge_readings(uow, row.id) if hinge is not None else []
    rows = [_reading(uow, one.happened_at, one.id, read_of(one), hinge, units) for one in kept if hinge is not None]
    care = balance_care(uow, part, verdict=False)
    return HingeView(row.design.version, hinge is not None, fields, figures, rows[::-1], care, HINGE_CARE)


def _about(hinge: Hinge, behind_m: float, grams: float) -> tuple[Figure, ...]:
    found = balance_of([Weight("it", grams, 1000 * behind_m)])
    moment = hinge_moment(found, 0.0)
    wanted = balance_weight(found, 0.0, -1000 * hinge.ahead_m, hinge.wanted_pct)
    weight = Given("weight when all is done", grams, "mass")
    middle = Given("its middle behind the hinge line", behind_m, "length")
    return (
        Figure("behind", "Middle behind its hinge", behind_m, "length", "square to the hinge line", (),
               "The middle of its outline: what is heavier at the root or the nose is not seen by it."),
        Figure("hinge_moment", "Moment about the hinge", moment / 1000, "hinge moment",
               "weight × its middle behind the hinge",
               (weight, middle)),
        Figure("balance", "Balance weight, computed", wanted, "mass",
               "moment × share ÷ how far ahead of the hinge it stands",
               (Given("share that is balanced", hinge.wanted_pct, "share"),
                Given("ahead of the hinge", hinge.ahead_m, "length")),
               "The reading on the hinge decides, not this figure."),
    )  # fmt: skip


def _reading(uow: UnitOfWork, at: datetime, key: str, read: Read, hinge: Hinge, units: UnitSystem) -> HingeRow:
    verdict = judged(read, hinge, units)
    side = "tail" if read.grams >= 0 else "nose"
    words = f"{show(abs(read.grams), 'mass', units)} at {show(1000 * read.arm_m, 'step', units)}, {side} heavy"
    if read.mounted_g:
        words += f", with a balance weight of {show(read.mounted_g, 'mass', units)}"
    return HingeRow(key, f"{words}; {when(minute_of(at), zone_here(uow))}", verdict.words, verdict.holds)
