"""What this shop's own hours say of its estimates."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime

from kiteloom.core.build.step import Step
from kiteloom.core.build.step_id import StepId
from kiteloom.core.log.facts import Fact
from kiteloom.core.log.learned import Done, Learned, learned
from kiteloom.store.models import Shop
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import the_shop
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import BuiltPart


def kind_of(part: BuiltPart, step: Step) -> str:
    """What sort of work a step is: of its recipe, whichever side, stage or coat it is of."""
    if step.kind == "turn":
        return step.kind
    job = part.job_of(step.in_part)
    recipe = job.recipe.key if job.recipe else job.name
    local = StepId.within(part.id, step.in_part).local
    return f"{recipe}: {step.kind or re.sub(r'-?[0-9]+', '', local)}"


def what_was_learned(parts: Mapping[str, BuiltPart], facts: Mapping[str, Fact]) -> dict[str, Learned]:
    """The factor of each kind of which three were finished, against what its recipe assumes."""
    done = []
    for part in parts.values():
        for key, step in ((key_in(job, step.key), step) for job in part.jobs for step in job.recipe_steps):
            fact = facts.get(f"{part.id}:{key}")
            if fact is not None and fact.finished is not None and fact.worked_min:
                done.append(Done(kind_of(part, replace(step, key=key)), step.minutes, fact.worked_min))
    return learned(done)


def as_learned(part: BuiltPart, step: Step, known: Mapping[str, Learned]) -> Step:
    """A step with its assumed minutes as this shop takes them; what the shop typed itself stays."""
    if step.own or step.estimate is None or (factor := known.get(kind_of(part, step))) is None:
        return step
    return replace(step, minutes=step.minutes * factor.factor)


def learned_words(part: BuiltPart, step: Step, known: Mapping[str, Learned], *, used: bool) -> str:
    """How long its kind takes here, against the estimate; ``""`` before there are three."""
    factor = known.get(kind_of(part, step))
    if factor is None or step.own:
        return ""
    used_words = "planned with" if used and step.estimate is not None else "not planned with"
    return f"Here it took {factor.factor:.2f} times the estimate, the middle of {factor.count} done; {used_words}."


@dataclass(frozen=True)
class UseLearned:
    """Whether to plan with what was learned."""

    version: int
    use: bool


def use_learned(uow: UnitOfWork, order: UseLearned, now: datetime) -> Kept:
    """Plan with what was learned, or with the recipes' own estimates."""
    shop, use = uow.get_for_edit(Shop, 1, order.version), order.use
    shop.planning = {**shop.planning, "use_learned": use}
    uow.edited(shop, ["estimates as learned here" if use else "estimates as the recipes assume"], now, "plan")
    return Kept("1")


def learned_is_used(uow: UnitOfWork) -> bool:
    """Whether the plan goes by what was learned."""
    return bool(the_shop(uow).planning.get("use_learned"))
