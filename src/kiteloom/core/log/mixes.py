"""Where a mix went: what of it is on which step, once leftovers and what was thrown away are out."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

#: A step among all: its part and its key there.
Place = tuple[str, str]

#: Less than this of a mix on a step is a smear, not a mix that cures there [g].
SMEAR_G = 0.5


@dataclass(frozen=True)
class Went:
    """A note on a mix: some of it went on another step, or its cup was emptied and so much was left over.

    ``grams`` are None where nobody said how much.
    """

    kind: Literal["on", "emptied"]
    place: Place = ("", "")
    grams: float | None = None


def shares(total_g: float, own: Place, notes: Sequence[Went]) -> dict[Place, float]:
    """Grams of a mix by the step they are on; steps that got none of it are left out.

    What was said to have gone elsewhere is taken from the step it was mixed for; of a step that got some
    without a figure nothing is taken away, and it is there with 0 g: it must cure there too.

    >>> wing, tail = ("wing", "layup"), ("tail", "layup")
    >>> shares(512, wing, [Went("on", tail, 300), Went("emptied", grams=12)])
    {('wing', 'layup'): 200.0, ('tail', 'layup'): 300.0}
    >>> shares(512, wing, [Went("emptied", grams=512)])
    {}
    """
    left = next((note.grams or 0.0 for note in reversed(notes) if note.kind == "emptied"), 0.0)
    used = max(total_g - left, 0.0)
    elsewhere: dict[Place, float] = defaultdict(float)
    for note in notes:
        if note.kind == "on" and note.place != own:
            elsewhere[note.place] += note.grams or 0.0
    gone = sum(elsewhere.values())
    scale = min(used / gone, 1.0) if gone else 1.0
    found = {own: used - gone} if used - gone > SMEAR_G else {}
    return found | {place: grams * scale for place, grams in elsewhere.items()}
