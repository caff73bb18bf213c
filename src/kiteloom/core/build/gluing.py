"""What all glued wood shares: how much glue an area takes, the moisture it is glued at, the cold it is not glued in."""

from __future__ import annotations

from typing import Any

from kiteloom.core.build.task import Item, Task

#: Glue on both faces together, and what is squeezed out (common practice) [g/m²].
GLUE_G_M2 = 300.0
#: Dry spruce (common practice) [kg/m³].
SPRUCE_KG_M3 = 450.0
#: Wood is glued at 70 °F or warmer unless the maker says otherwise (AC 43.13-1B ch. 1, from memory) [°C].
USUAL_C = (70 - 32) / 1.8

TOOLS = "Sharp tools and wood dust: guards, mask, extraction."
#: Both pieces are read; bench mode compares them with each other and with the room.
MOIST = Item("moist", "Moisture of one piece read", "8 to 12 %, and alike on both.", asks="moisture")
OTHER_MOIST = Item("other", "Moisture of the other piece read", asks="moisture")


def too_cold(task: Task[Any]) -> tuple[str, ...]:
    """What is asked where a glue's sheet does not say how cold it may be.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> frame = example(recipe_of("frame"))
    >>> cold = replace(frame, products={"glue": product(replace(EPOXY, min_c=None))})
    >>> too_cold(cold)[0][-62:-31], too_cold(frame)
    ('; 21.1 °C or warmer is usual, u', ())
    """
    glue = task.products.get("glue")
    if glue is None or glue.cure is None or glue.cure.min_c is not None:
        return ()
    usual = f"{task.says(USUAL_C, 'temperature')} or warmer is usual, unless its maker says otherwise."
    return (f"The sheet of {glue.name} does not say how cold it may be glued; {usual}",)
