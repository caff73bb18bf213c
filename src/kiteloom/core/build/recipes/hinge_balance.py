"""A control surface balanced on its hinge, after all that puts weight on it: read, weighted, read again.

It is a gate: it is not through before a reading holds, and what puts weight on later asks for another. Flutter limits
and the share that must be balanced belong to the designer. Hands-on minutes are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.build.closing import HINGES
from kiteloom.core.build.recipe import ANY_SHAPE, Recipe
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Task

_FLUTTER = (
    "Out of balance it can flutter and break: the designer’s limits and the inspector decide. Lead dust and fumes are "
    "poison: gloves, no file, no flame."
)


@dataclass(frozen=True)
class Given:
    """Nothing: its hinge stands under the part's weight."""


def steps(_: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['read', 'weight', 'balance']
    """
    read, weight = Estimate(30), Estimate(45)
    hang = "Hung by two people over something soft: it swings."
    return (
        Step("read", "Hang it on its hinge, read its moment", read.minutes, 1, estimate=read, may_pause=True,
             caution=hang, stations=("bench",)),
        Step("weight", "Fix the balance weight", weight.minutes, 1, (After("read"),), estimate=weight, may_pause=True,
             caution=_FLUTTER, stations=("bench",)),
        # Not finished before a reading on the hinge holds.
        Step("balance", "Read it again on its hinge", read.minutes, 1, (After("weight"),), estimate=read,
             caution=f"{hang} {_FLUTTER}", stations=("bench",), kind="balance", gate=True),
    )  # fmt: skip


def items(_: Task[Given], __: str) -> tuple[Item, ...]:
    """The run sheet of each.

    >>> [item.key for item in items(example(RECIPE), "balance")]
    ['complete', 'hang', 'level', 'weight', 'kept']
    """
    return (
        Item("complete", "Everything is on it: paint, horns, bearings, seals", "What comes later is read again."),
        Item("hang", "Hung on its own hinge line, free to turn, no draught"),
        Item("level", "Held level on a scale: grams and distance written down"),
        Item("weight", "Balance weight fixed as the designer says, never by tape"),
        Item("kept", "What was read is kept under its Weight", asks="look"),
    )


RECIPE = Recipe(
    "balance",
    "balance on its hinge",
    "Read on its hinge when everything is on it, weighted, read again. Repainted means once more.",
    Given,
    (),
    steps,
    items=items,
    stations=("bench",),
    shapes=ANY_SHAPE,
    before_closing=(HINGES,),
)
