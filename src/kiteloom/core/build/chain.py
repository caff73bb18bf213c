"""A part's jobs in a row: each begins when the one before is through."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from kiteloom.core.build.step import After, Step, StepId


def chained(jobs: Sequence[tuple[str, Sequence[Step]]]) -> tuple[Step, ...]:
    """The steps of all jobs of a part, under the part's keys.

    Parameters
    ----------
    jobs : sequence of (key, steps)
        In order; steps under keys of their own job.

    Returns
    -------
    tuple of Step
        The steps that nothing of their own job comes before follow every step of the job before
        that nothing of its own follows.

    Examples
    --------
    >>> lay, fill = Step("lay", "Lay", 60), Step("fill", "Fill", 30)
    >>> [(step.key, [link.step for link in step.after]) for step in chained([("", [lay]), ("j2", [fill])])]
    [('lay', []), ('j2:fill', ['lay'])]
    """
    found: list[Step] = []
    ends: tuple[str, ...] = ()
    for job, steps in jobs:
        mine = [_of_job(step, job) for step in steps]
        found += [step if step.after else replace(step, after=tuple(After(end) for end in ends)) for step in mine]
        ends = ends_of(mine) or ends
    return tuple(found)


def _of_job(step: Step, job: str) -> Step:
    links = tuple(replace(link, step=StepId("", job, link.step).in_part) for link in step.after)
    return replace(step, key=StepId("", job, step.key).in_part, job=job, after=links)


def ends_of(steps: Sequence[Step]) -> tuple[str, ...]:
    """The keys of the steps that none of the others follows.

    >>> ends_of([Step("a", "A", 5), Step("b", "B", 5, after=(After("a"),))])
    ('b',)
    """
    before = {link.step for step in steps for link in step.after}
    return tuple(step.key for step in steps if step.key not in before)
