"""Steps that must be placed together: each follows another within a time."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from kiteloom.core.build.step import Step


def units_of(steps: Sequence[Step]) -> list[tuple[Step, ...]]:
    """The steps, each alone or with those whose time depends on it; in the order given.

    A link that says how soon binds both ways, any other only forward: what lies on a circle of
    those belongs together, so also whatever must be done between two bound steps.

    >>> from kiteloom.core.build.step import After
    >>> mix, stir = Step("mix", "Mix", 5), Step("stir", "Stir", 5, after=(After("mix"),))
    >>> brush = Step("brush", "Brush", 5, after=(After("stir"), After("mix", within_min=30)))
    >>> [[step.key for step in unit] for unit in units_of([Step("sand", "Sand", 5), mix, stir, brush])]
    [['sand'], ['mix', 'stir', 'brush']]
    """
    at = {step.key: n for n, step in enumerate(steps)}
    rows: list[int] = []
    columns: list[int] = []
    for step in steps:
        for link in step.after:
            if link.step in at:
                rows.append(at[link.step])
                columns.append(at[step.key])
                if link.tight:
                    rows.append(at[step.key])
                    columns.append(at[link.step])
    graph = coo_array(([1] * len(rows), (rows, columns)), shape=(len(steps), len(steps)))
    _, labels = connected_components(graph, directed=True, connection="strong")
    units: dict[int, list[Step]] = defaultdict(list)
    for step, label in zip(steps, labels.tolist(), strict=True):
        units[label].append(step)
    return [tuple(unit) for unit in units.values()]
