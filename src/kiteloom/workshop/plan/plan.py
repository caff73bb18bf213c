"""The whole shop's plan: every part's steps placed over what was done. Not stored: it follows from the facts."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import moment_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.core.build.gates import with_lists
from kiteloom.core.build.in_turn import one_mix
from kiteloom.core.build.one_go import one_go
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.build.step_id import StepId
from kiteloom.core.cure.witness import Release
from kiteloom.core.log.facts import Fact
from kiteloom.core.log.learned import Learned
from kiteloom.core.plan.furnish import furnished
from kiteloom.core.plan.input import Member, PlanInput, Station
from kiteloom.core.plan.place import place
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.standing import standing
from kiteloom.core.plan.today import curing, faded_in
from kiteloom.store.models import StandingOrder
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import ShopTemperature
from kiteloom.workshop.air.parts import heat_ends, heatings
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.saying import Saying
from kiteloom.workshop.base.shop import the_shop, units_of, working_hours, zone_at
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import (
    WORK_TOPICS,
    BuiltPart,
    built_parts,
    joints_in_order,
    part_names,
    steps_in_shop,
)
from kiteloom.workshop.log.ahead import waiting
from kiteloom.workshop.log.deviations import scrapped
from kiteloom.workshop.log.faces import lost_faces
from kiteloom.workshop.log.gates import open_closings
from kiteloom.workshop.log.measured import unread
from kiteloom.workshop.log.outside import Outside, held_by, outside
from kiteloom.workshop.log.witness import releases, unreleased_before
from kiteloom.workshop.log.work import Done, done_so_far
from kiteloom.workshop.plan.airs import shop_airs
from kiteloom.workshop.plan.learning import as_learned, learned_is_used, what_was_learned
from kiteloom.workshop.plan.people import everybody, members, stations_of
from kiteloom.workshop.plan.turnings import things_of
from kiteloom.workshop.plan.wanted import not_before, pins, there_from

#: So long a part lies where it cures, about [min].
LIES_MIN = 3 * 1440.0


@dataclass(frozen=True, eq=False)
class ShopPlan:
    """A plan and all it was made from. ``names`` are those of parts, people and stations by id."""

    now: float
    input: PlanInput
    plan: Plan
    parts: dict[str, BuiltPart]
    done: Done
    air: ShopTemperature
    names: dict[str, str]
    saying: Saying
    releases: Mapping[str, Release]
    airs: Mapping[str, ShopTemperature]
    """The airs by the names the plan has for them: parts that have their own, zones that stations are in."""
    awaited: Mapping[str, str]
    """What steps wait for, by key."""
    learned: Mapping[str, Learned]
    """How long kinds of work take here; planned with when ``uses_learned``."""
    uses_learned: bool
    served: frozenset[str]
    """The kinds of station there are."""
    above_sea_m: float | None
    """How high the shop stands, where that was said."""
    unsigned: frozenset[str]
    """Closings that nobody has looked at and signed, or an inspector is still to see, by their steps."""
    unread: frozenset[str]
    """Steps that are readings, and were not read yet."""
    outside: Sequence[Outside]
    """What was read outside its limits and is not accepted."""
    heated: Mapping[str, tuple[float, float]]
    """When the last hold of the last post-cure of each part that has one ends, and when it is cool [min]."""

    @cached_property
    def by_part(self) -> Mapping[str, list[Placed]]:
        """Placed steps by part, in the plan's order; a part with none is left out."""
        found: dict[str, list[Placed]] = {}
        for placed in self.plan.placed:
            found.setdefault(placed.step.part, []).append(placed)
        return found

    @cached_property
    def curing(self) -> tuple[Placed, ...]:
        """What cures or stands now, the soonest ready first."""
        return tuple(curing(self.plan, self.now))

    def part(self, part_id: str) -> BuiltPart:
        """A part by its id; `Refused` for one that was taken out of its airframe."""
        if part_id not in self.parts:
            raise Refused("part_id", "that part was taken out of its airframe; take it back first")
        return self.parts[part_id]

    def left_g(self, key: str) -> float:
        """Resin of a step still worth mixing [g]; 0 where none is computed, and once it is said to be finished."""
        part_id, _, local = key.partition(":")
        part = self.parts.get(part_id)
        return self.done.left_g(part, local) if part is not None else 0.0

    def air_of(self, name: str) -> ShopTemperature:
        """An air by name: of a part that was moved or read, of a zone with stations, else the shop's."""
        return self.airs.get(name, self.air)

    def air_at(self, placed: Placed) -> ShopTemperature:
        """The temperature a placed step has: of the zone its station is in, else of its part."""
        return self.air_of(placed.air)

    def too_cold(self, step: Step) -> bool:
        """Whether it gets colder where a step would be, in the days it would lie there, than its sheet allows."""
        if step.cure is None or step.min_c is None or step.refused:
            return False
        air = self.air_of(self.plan.airs.where(step)).profile
        return min(c for _, c in air.between(self.now, self.now + LIES_MIN)) < step.min_c

    def unreleased(self, step: Step) -> list[str]:
        """The steps before one that no reading has released."""
        return unreleased_before(step, self.releases)

    def fact(self, key: str) -> Fact | None:
        """What was done of a step."""
        return self.done.facts.get(key)


def shop_plan(uow: UnitOfWork, now: float) -> ShopPlan | None:
    """The plan as it stands; None while no temperature was ever given."""
    return remembered(uow, now, "plan", lambda: _made(uow, now))


def _made(uow: UnitOfWork, now: float) -> ShopPlan | None:
    found = {part.id: part for part in built_parts(uow)}
    done = done_so_far(uow, found)
    rows, crew = stations_of(uow), members(uow)
    # The air of the zones stations are in; where nobody ever gave it, it is taken to be the shop's.
    known_airs = shop_airs(uow, since(done, now), now, list(dict.fromkeys(row.zone_id for row in rows if row.zone_id)))
    if known_airs is None:
        return None
    air, zones, own = known_airs.shop, known_airs.zones, known_airs.parts
    shop = the_shop(uow)
    units: UnitSystem = units_of(uow)
    named = frozenset[str]().union(*(member.skills for member in crew))
    released = releases(uow)
    awaited, gone = not_before(uow, moment_of(now)), scrapped(uow)
    closings = open_closings(uow, found, done.facts)
    for gate, closing in closings:
        if closing.waits and closing.asked_on is not None:
            comes = there_from(uow, closing.asked_on, moment_of(now))
            awaited[gate.key] = max(awaited.get(gate.key, (0.0, "")), (comes, "the inspector"))
    stood = uow.session.get(StandingOrder, 1)
    for key, waits in waiting(uow, found, done, stood.begins if stood is not None else {}, moment_of(now)).items():
        comes = there_from(uow, waits.day, moment_of(now))
        awaited[key] = max(awaited.get(key, (0.0, "")), (comes, waits.what))
    places = [(row, row.zone_id if row.zone_id in zones else None) for row in rows]
    stations, asked = furnished(
        [Station(row.id, row.capacity, zone or "", row.name, tuple(row.serves)) for row, zone in places]
    )
    zoned = frozenset(station.id for station in stations if station.zone)
    known = what_was_learned(found, done.facts)
    used = known if learned_is_used(uow) else {}
    # These are the same from one fact to the next, nearly always.
    here = uow.built.made(
        (uow.last_change(WORK_TOPICS), asked, named, zoned, used),
        "steps here",
        lambda: [
            as_learned(found[step.part], _as_furnished(step, asked, named, zoned), used)
            for step in steps_in_shop(found.values())
        ],
    )
    steps = tuple(_when_it_came(_when_read_again(_left_out(step, gone), released), awaited) for step in here)
    airs = {**zones, **own}
    read = uow.built.made(uow.last_change(WORK_TOPICS), "what is read", lambda: _read(uow, found))
    out = read.outside
    held = held_by(out, steps)
    steps = tuple(
        replace(step, refused=held[step.key]) if step.key in held and step.key not in done.facts else step
        for step in steps
    )
    lists = {step.key: (sum(1 for line in one.left if line.minutes), one.minutes) for step, one in closings}
    steps = with_lists(_in_one_go(_with_one_mix(steps, found, done.facts), found, done.facts), lists)
    # What was made ready and is not ready any more is done once more.
    lost = lost_faces(uow, found.values(), done.facts, now)
    job = PlanInput(
        steps,
        math.ceil(now / GRID_MIN) * GRID_MIN,
        working_hours(shop),
        air.profile,
        crew,
        stations,
        {key: fact for key, fact in done.facts.items() if key not in lost},
        {part_id: theirs.profile for part_id, theirs in own.items()},
        {zone_id: theirs.profile for zone_id, theirs in zones.items()},
        known_airs.damp,
        things_of(found, steps, done),
        pins(uow, now),
        overnight=stood is None or stood.overnight,
        units=units,
        order=tuple(stood.keys) if stood is not None else (),
        stands=standing(stood.begins, now) if stood is not None else {},
    )
    if not crew:
        # A shop that has named nobody yet is taken to be as many as its steps ask for.
        most = max((step.people for step in steps), default=1)
        job = replace(job, crew=tuple(Member(f"person {n + 1}") for n in range(most)))
    names = part_names(uow) | {row.id: row.name for row in rows}
    names |= {station.id: station.name for station in stations}
    names |= {row.id: row.name for row in everybody(uow)} | {thing.id: thing.name for thing in job.things}
    before: ShopPlan | None = uow.memory.last("plan")
    if before is not None and before.input.like(job):
        made = before.plan
    else:
        made = place(job, before.plan.ground if before is not None else None)
    if faded := faded_in(made, job.facts):
        # What was made ready and does not stay so until its turn is done once more.
        job = job.but(facts={key: fact for key, fact in job.facts.items() if key not in faded})
        made = place(job, made.ground)
    return ShopPlan(
        now,
        job,
        made,
        found,
        done,
        air,
        names,
        Saying(zone_at(shop), now, units),
        released,
        airs,
        {key: what for key, (_, what) in awaited.items()},
        known,
        bool(used),
        frozenset(asked),
        shop.bench.get("above_sea_m"),
        frozenset(step.key for step, one in closings if not one.signed or one.waits),
        read.unread,
        out,
        {part_id: heat_ends(uow, part_id) for part_id in {row.part_id for row in heatings(uow)}},
    )


@dataclass(frozen=True)
class _Read:
    """What was read of parts, whatever was worked: what is outside its limits, and steps that are readings still to
    be read."""

    outside: Sequence[Outside]
    unread: frozenset[str]


def _read(uow: UnitOfWork, found: Mapping[str, BuiltPart]) -> _Read:
    steps = ((part, step) for part in found.values() for step in part.in_shop)
    return _Read(outside(uow, found.values()), frozenset(step.key for part, step in steps if unread(uow, part, step)))


def since(done: Done, now: float) -> float:
    """From when temperature matters: the day of the first mix that may still be curing, at most 60 days back."""
    mixed = [fact.mixed_at for fact in done.facts.values() if fact.mixed_at is not None] + [
        fact.finished for fact in done.facts.values() if fact.finished is not None
    ]
    return math.floor(max(min([now, *mixed]), now - 60 * 1440) / 1440) * 1440.0


def what_if(shop: ShopPlan, profile: Profile | None = None, held: Mapping[str, float] | None = None) -> ShopPlan:
    """The same shop with another temperature, or with steps that may not start before a time."""
    wanted = held or {}
    steps = tuple(replace(s, not_before=wanted[s.key]) if s.key in wanted else s for s in shop.input.steps)
    job = replace(shop.input, steps=steps, profile=profile or shop.input.profile)
    air = replace(shop.air, known=replace(shop.air.known, profile=job.profile))
    return replace(shop, input=job, plan=place(job), air=air)


def _with_one_mix(
    steps: tuple[Step, ...], found: Mapping[str, BuiltPart], facts: Mapping[str, Fact]
) -> tuple[Step, ...]:
    """The same steps, joints that follow each other worked with one mix while it can be used."""
    by_key = {step.key: step for step in steps}
    changed: dict[str, Step] = {}
    for joints in joints_in_order(found.values()).values():
        if joints.order is None:
            continue
        mine = {name: found[key] for name, key in joints.ids.items() if found[key].bond in by_key}
        held = {name: part.adhesive for name, part in mine.items()}
        mixes = {name: sheet for name, (sheet, _) in held.items()}
        pots = {sheet: one.pot_life.minutes for sheet, one in held.values() if one is not None and one.pot_life}
        bonds = {name: by_key[part.bond] for name, part in mine.items()}
        changed |= one_mix(joints.order, bonds, mixes, pots, facts)
    return tuple(changed.get(step.key, step) for step in steps) if changed else steps


def rounds_of(found: Mapping[str, BuiltPart]) -> dict[tuple[str, str], list[list[str]]]:
    """Parts coated in one go: by the name of their round and its product, coat by coat the keys of their steps."""
    rounds: dict[tuple[str, str], list[list[str]]] = {}
    for part in found.values():
        for job in part.jobs:
            if job.recipe is None or job.recipe.together is None or job.task is None or job.cant:
                continue
            name, coats = job.recipe.together(job.task)
            if not name:
                continue
            mine = rounds.setdefault((name, job.sheets[job.role_of(coats[0])]), [])
            for n, coat in enumerate(coats):
                if n == len(mine):
                    mine.append([])
                mine[n].append(f"{part.id}:{key_in(job, coat)}")
    return {key: mine for key, mine in rounds.items() if any(len(coat) > 1 for coat in mine)}


def _in_one_go(steps: tuple[Step, ...], found: Mapping[str, BuiltPart], facts: Mapping[str, Fact]) -> tuple[Step, ...]:
    """The same steps, parts that are coated in one go one after the other."""
    rounds = rounds_of(found)
    if not rounds:
        return steps
    by_key = {step.key: step for step in steps}
    pots: dict[str, float] = {}
    for key in (key for coats in rounds.values() for coat in coats for key in coat):
        step = StepId.of(key)
        part = found[step.part]
        job = part.job_of(step.in_part)
        product = job.products.get(job.role_of(step.local))
        if product is not None and product.parts is not None and product.pot_life is not None:
            pots[key] = product.pot_life.minutes
    listed = [[by_key[key] for key in coat if key in by_key] for coats in rounds.values() for coat in coats]
    changed = one_go(listed, pots, facts)
    return tuple(changed.get(step.key, step) for step in steps)


def _as_furnished(step: Step, asked: Mapping[str, str], named: frozenset[str], zoned: frozenset[str]) -> Step:
    """Each kind of station as the one that serves as it; where nothing does a shop is not held by it.

    Nor is it by skills where nobody's were ever said.
    """
    stations = tuple(dict.fromkeys(asked[kind] for kind in step.stations if kind in asked))
    # How warm a place must be can't be asked of one whose air nobody ever gave.
    least = step.min_c if step.cure is not None or any(name in zoned for name in stations) else None
    return replace(step, stations=stations, skills=step.skills if named else (), min_c=least)


def _left_out(step: Step, lost: Mapping[str, str]) -> Step:
    """Nothing more is done to a part that is scrapped."""
    return replace(step, refused=lost[step.part]) if step.part in lost else step


def _when_it_came(step: Step, awaited: Mapping[str, tuple[float, str]]) -> Step:
    """What waits for something does not go before it comes."""
    if step.key not in awaited:
        return step
    comes, what = awaited[step.key]
    return replace(step, not_before=max(comes, step.not_before or 0.0), awaits=what)


def _when_read_again(step: Step, released: Mapping[str, Release]) -> Step:
    """What waits for a witness that was found soft is not tried before it is read again."""
    again = [at for key in unreleased_before(step, released) if (at := released[key].again_at) is not None]
    return replace(step, not_before=max([*again, step.not_before or 0.0])) if again else step
