"""What is found wrong on a part, and what is decided about it: by somebody, never by the program."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

#: What may be found, in the trade's words; ``changed`` is what was built otherwise than it was drawn.
KINDS = ("dry spot", "void", "ply laid wrong", "dent", "crack", "resin that stays soft", "other", "changed")

DecisionKind = Literal["accept", "mend", "scrap", "open"]
State = Literal["open", "accepted", "to mend", "mended", "scrapped"]


def state_of(kind: str, decisions: Sequence[str], mended: bool = False) -> State:
    """How a deviation stands after its decisions, in the order of their time; ``mended`` when its job is through.

    What was built otherwise than drawn was decided when it was changed.

    >>> state_of("void", []), state_of("void", ["accept", "mend"]), state_of("void", ["mend"], mended=True)
    ('open', 'to mend', 'mended')
    >>> state_of("void", ["scrap"]), state_of("void", ["scrap", "open"]), state_of("changed", [])
    ('scrapped', 'open', 'accepted')
    """
    if kind == "changed" and not decisions:
        return "accepted"
    if not decisions or decisions[-1] == "open":
        return "open"
    if decisions[-1] == "mend":
        return "mended" if mended else "to mend"
    return "accepted" if decisions[-1] == "accept" else "scrapped"
