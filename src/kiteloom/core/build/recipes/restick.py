"""Places where cloth did not stick: lifted, both faces coated, dried, set again with the iron.

Cloth glued on one face only does not hold (common practice); the cloth maker decides how a place is mended.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, cast

from kiteloom.core.base.fields import Asked
from kiteloom.core.build.clothing import DRY, RECOAT
from kiteloom.core.build.clothing_steps import IRON, SHARP
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Again, Item, Role, Task
from kiteloom.core.build.wet import limited, stage_of, wet
from kiteloom.core.need.supplies import Supply, brushed
from kiteloom.core.stores.materials import CoverCloth

#: Coats on either face of a lifted place (common practice).
COATS = 2


@dataclass(frozen=True)
class Given:
    """Where it is, how many places, and how large one is."""

    where: Annotated[str, Asked("Where", "words")] = ""
    places: Annotated[int, Asked("Places", "count", low=1, high=50)] = 1
    place_m2: Annotated[float, Asked("One is", dimension="area", unit=("cm²", "in²"), low=1e-4, high=0.5)] = 0.01


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['lift', 'coat-1', 'coat-2', 'set']
    """
    given, glue = task.given, task.products["cement"]
    cloth = cast(CoverCloth, task.materials["cloth"])
    at = f", {given.where}" if given.where else ""
    lift = Estimate(5, each_min=8, count=given.places, piece="places")
    coat = Estimate(5, each_min=4, count=given.places, piece="places")
    again = Estimate(10, each_min=6, count=given.places, piece="places")
    stand = ("wing stands",)
    found = [Step("lift", f"Warm and lift it{at}", lift.minutes, 1, may_pause=True, estimate=lift,
                  caution=f"{IRON} {SHARP}", stations=stand)]  # fmt: skip
    last = After("lift")
    for n in range(1, COATS + 1):
        step = Step(f"coat-{n}", f"Coat both faces{at}, {n} of {COATS}", coat.minutes, 1, (last,), estimate=coat,
                    stations=stand, kind="coat", skills=("finishing",))  # fmt: skip
        stage = stage_of(glue.curing, RECOAT if n < COATS else DRY)
        found.append(wet(step, glue, stage))
        last = After(step.key, stage)
    on = Step("set", f"Set it again{at}, look at it against the light", again.minutes, 1, (last,), estimate=again,
              caution=IRON, stations=stand, kind="set", skills=("finishing",), listed=True,
              heats=(("at", cloth.slack_c),) if cloth.slack_c is not None else ())  # fmt: skip
    found.append(limited(on, glue))
    return tuple(found)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Adhesive on both faces, coat by coat."""
    area = 2 * task.given.places * task.given.place_m2
    return tuple(
        one
        for n in range(1, COATS + 1)
        for one in brushed(f"coat-{n}", task.products["cement"], area, task.losses, of="both faces of its places")
    )


def items(_: Task[Given], __: str) -> tuple[Item, ...]:
    """The run sheet of a coat, and of setting it again.

    >>> [item.key for item in items(example(RECIPE), "set")]
    ['ready', 'both', 'press', 'look']
    """
    return (
        Item("ready", "Lifted as far as it did not hold, and a finger more"),
        Item("both", "Frame and cloth both coated", "One face only does not hold."),
        Item("press", "Laid without a wrinkle, pressed while it sets"),
        Item("look", "It holds all over; the bay is as tight as its neighbours"),
    )


AGAIN = Again("restick", "A place did not stick?", "Lift it, coat both, set it again", "where")
RECIPE = Recipe(
    AGAIN.recipe,
    "setting a place of cloth again",
    "Where cloth did not stick: lifted, both faces coated, dried, set again.",
    Given,
    (Role("cloth", "Covering cloth", ("cover cloth",)), Role("cement", "Cement or adhesive", ("cement",), (DRY,))),
    steps,
    items=items,
    supplies=uses,
    stations=("wing stands",),
)
