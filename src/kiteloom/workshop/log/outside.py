"""What was read or tapped outside its limits and is not accepted: to be decided, and the steps it holds."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.build.chain import ends_of
from kiteloom.core.build.checks import judged
from kiteloom.core.build.coin_tap import Grid, covered
from kiteloom.core.build.step import Step
from kiteloom.core.build.step_id import StepId
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.checks import check_of, checks_by_design, steps_of_moments
from kiteloom.workshop.build.mending import mending_id
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.coin_taps import tap_rulings, taps_by_part
from kiteloom.workshop.log.measured import last_of, measured_rows, rulings
from kiteloom.workshop.log.tanks import tank_job, tank_says


@dataclass(frozen=True)
class Outside:
    """One reading, or one tap, outside its limits, and what it found.

    ``decided`` is what must be done about it; ``""`` while nothing was decided.
    """

    part: BuiltPart
    name: str
    words: str
    decided: str
    tab: Literal["checks", "joint", "leak"]
    """Of the part's page, where it is decided."""
    holds: frozenset[str]
    """Steps that it holds themselves, by their keys among those of all parts."""
    behind: frozenset[str]
    """Steps that were done, and what comes after is held."""
    instead: str = ""
    """What is to be done about it where nobody decides; ``""`` where somebody does."""

    @property
    def why(self) -> str:
        """Why what follows is held."""
        if self.instead:
            return self.instead
        how = f"{self.decided} it, then read it again" if self.decided else "decide about it"
        return f"“{self.name}” is out of tolerance: {how}"


def outside(uow: UnitOfWork, parts: Iterable[BuiltPart]) -> list[Outside]:
    """All that is outside its limits and not accepted, part by part."""
    return [one for part in parts for one in (*_checks(uow, part), *_tap(uow, part), *_tank(uow, part))]


def held_by(found: Iterable[Outside], steps: Iterable[Step]) -> dict[str, str]:
    """Why steps of the shop, linked, are held by what is outside its limits, by their keys."""
    held: dict[str, str] = {}
    behind: dict[str, str] = {}
    for one in found:
        held |= dict.fromkeys(one.holds, one.why)
        behind |= dict.fromkeys(one.behind, one.why)
    if behind:
        held |= {step.key: behind[link.step] for step in steps for link in step.after if link.step in behind}
    return held


def _checks(uow: UnitOfWork, part: BuiltPart) -> Iterable[Outside]:
    rows, ruled = measured_rows(uow), rulings(uow)
    for check in checks_by_design(uow).get(part.design_id, ()):
        read = rows.get((part.id, check.id), ())
        for moment, key in steps_of_moments(part, check).items() if read else ():
            last = last_of(read, moment)
            decided = ruled.get(last.id) if last is not None else None
            if last is None or (decided is not None and decided.kind == "accept"):
                continue
            said = judged(check_of(check), last.values, units_of(uow))
            if said.holds:
                continue
            step = frozenset({f"{part.id}:{key}"} if key else ())
            mending = next((job for job in part.jobs if job.id == mending_id(last.id)), None)
            if mending is not None:
                step = frozenset(StepId(part.id, mending.key, local).key for local in ends_of(mending.steps))
            before = check.reads == "twice" and moment == "before"
            yield Outside(part, check.name, said.says[0], decided.kind if decided is not None else "", "checks",
                          step if before else frozenset(), frozenset() if before else step)  # fmt: skip


def _tap(uow: UnitOfWork, part: BuiltPart) -> Iterable[Outside]:
    taps = taps_by_part(uow).get(part.id, [])
    job = part.bonding
    if not taps or job is None or job.task is None:
        return
    last, least = taps[-1], job.task.given.least_pct
    decided = tap_rulings(uow).get(last.id)
    found = covered(Grid(last.along, last.across), [(along, across) for along, across in last.voids])
    if not found.holds(least) and (decided is None or decided.kind != "accept"):
        words = f"{found.pct:.0f} % holds; at least {least:g} % is wanted."
        # It is tapped in the last step of its job.
        last_steps = frozenset(StepId(part.id, job.key, local).key for local in ends_of(job.steps))
        yield Outside(part, "Coin tap", words, decided.kind if decided is not None else "", "joint", frozenset(),
                      last_steps)  # fmt: skip


def _tank(uow: UnitOfWork, part: BuiltPart) -> Iterable[Outside]:
    found = tank_job(part)
    if found is None:
        return
    says = tank_says(uow, part)
    if says is not None and says.verdict == "leaks":
        last = frozenset(StepId(part.id, found[0].key, local).key for local in ends_of(found[0].steps))
        mend = f"{part.name} leaks: find where, seal it, pump it up again"
        yield Outside(part, "Leak test", f"It leaks. {says.says[1]}", "", "leak", frozenset(), last, mend)
