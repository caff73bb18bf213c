"""What has been done, or is being done now, as the plan takes it: facts are not placed, they stand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.log.facts import Fact, Mixed
from kiteloom.core.plan.airs import Airs
from kiteloom.core.plan.placed import Because, Placed
from kiteloom.core.plan.search import Search


def settled(step: Step, fact: Fact, start: float, search: Search) -> Placed:
    """A step that was done or is running, where it stands in a plan that starts at a time [min].

    >>> settled(small.steps[0], Fact(finished=90.0), 0.0, Search(small)).state
    'done'
    """
    air = search.airs.where(step, done=True)
    if not fact.done:
        assert fact.running_since is not None
        now = max(start, fact.running_since)
        left = step.length - fact.worked_min - (now - fact.running_since)
        end = now + max(math.ceil(left / GRID_MIN) * GRID_MIN, GRID_MIN)
        pieces = (*fact.pieces, (fact.running_since, end))
        ready = search.ready(step, end, step.cure, air)
        mixed = end if step.cure else None
        because = Because("running", step.key)
        return Placed(
            step, pieces[0][0], end, ready, because, pieces, fact.people, mixed, step.cure, "running", air=air
        )
    if fact.skipped and fact.finished is not None:
        # It does not apply: nothing of it is waited for.
        step = replace(step, cure=None, wait_stage=None, wait_min=0)
    mix = _slowest(step, fact.mixed, search.airs, air) if fact.mixed else None
    end = fact.finished if fact.finished is not None else (fact.mixed_at or 0.0)
    pieces = fact.pieces or ((end, end),)
    cure, begins = (mix.cure, mix.at) if mix else (step.cure, end)
    ready = search.ready(step, begins, cure, air)
    spoilt = [each for each in fact.mixed if each.spoilt]
    if spoilt:
        signed = [each.decided for each in spoilt if each.decided is not None]
        ready = max(signed) if len(signed) == len(spoilt) else None
    mixed, because = begins if cure else None, Because("done", step.key)
    return Placed(
        step,
        pieces[0][0],
        end,
        ready,
        because,
        pieces,
        fact.people,
        mixed,
        cure,
        "done",
        air=air,
        spoilt=bool(spoilt),
    )


def _slowest(step: Step, mixed: Sequence[Mixed], airs: Airs, air: str) -> Mixed:
    """The batch a step waits for: of several products the one that is through last in the air it has."""

    def due(mix: Mixed) -> tuple[float, float]:
        stage = step.wait_stage or ""
        hours = mix.cure.hours(stage) if mix.cure.has(stage) else mix.cure.last.hours
        through = airs.reaches(mix.cure, mix.at, hours, air)
        return (math.inf if through is None else through, mix.at)

    return max(mixed, key=due)
