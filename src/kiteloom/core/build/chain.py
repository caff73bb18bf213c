"""A part's jobs in a row: each begins when the one before is through."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from kiteloom.core.build.step import After, Step
from kiteloom.core.build.step_id import StepId


def chained(jobs: Sequence[tuple[str, Sequence[Step]]], before: Mapping[str, str] | None = None) -> tuple[Step, ...]:
    """The steps of all jobs of a part, under the part's keys.

    Parameters
    ----------
    jobs : sequence of (key, steps)
        In order; steps under keys of their own job.
    before : mapping
        Jobs that stand outside the row, by their key: each goes before one step, and after what that step follows.

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
    >>> bed, mend = Step("bed", "Bed", 60, after=(After("lay"),)), Step("mend", "Mend", 20)
    >>> both = chained([("", [lay, bed]), ("j2", [mend])], {"j2": "bed"})
    >>> [(step.key, [link.step for link in step.after]) for step in both]
    [('lay', []), ('bed', ['lay', 'j2:mend']), ('j2:mend', ['lay'])]
    """
    found: list[Step] = []
    ends: tuple[str, ...] = ()
    aside = before or {}
    for job, steps in jobs:
        if aside.get(job):
            continue
        mine = [_of_job(step, job) for step in steps]
        found += [step if step.after else replace(step, after=tuple(After(end) for end in ends)) for step in mine]
        ends = ends_of(mine) or ends
    for job, steps in jobs:
        at = next((n for n, step in enumerate(found) if step.key == aside.get(job)), None)
        mine = [_of_job(step, job) for step in steps]
        if at is None:
            # What it was to go before is no longer built so: it comes last.
            found += (
                []
                if not aside.get(job)
                else [step if step.after else replace(step, after=tuple(After(end) for end in ends)) for step in mine]
            )
            continue
        waits = found[at].after
        loose = tuple(After(link.step, link.until) for link in waits)
        found[at] = replace(found[at], after=(*waits, *(After(end) for end in ends_of(mine))))
        found += [step if step.after else replace(step, after=loose) for step in mine]
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
