"""What stands behind a step: all that comes after it, however far."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence

from kiteloom.core.build.step import Step


def followers(steps: Sequence[Step]) -> Mapping[str, Sequence[str]]:
    """The keys of the steps that come next after each, by its key; a last one has none.

    >>> from kiteloom.core.build.step import After
    >>> followers([Step("lay", "Lay", 60), Step("trim", "Trim", 30, after=(After("lay"),))])["lay"]
    ['trim']
    """
    found: dict[str, list[str]] = defaultdict(list)
    for step in steps:
        for link in step.after:
            found[link.step].append(step.key)
    return found


def behind(keys: Iterable[str], followers: Mapping[str, Sequence[str]]) -> set[str]:
    """The keys of all that comes after any of some steps, however far.

    >>> sorted(behind(["a"], {"a": ["b"], "b": ["c", "d"], "x": ["y"]}))
    ['b', 'c', 'd']
    """
    found: set[str] = set()
    trail = list(keys)
    while trail:
        fresh = set(followers.get(trail.pop(), ())) - found
        found |= fresh
        trail += fresh
    return found
