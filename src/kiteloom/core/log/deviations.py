"""What is found wrong on a part, and what is decided about it: by somebody, never by the program."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

#: What may be found, in the trade's words; ``changed`` is what was built otherwise than it was drawn.
KINDS = ("dry spot", "void", "ply laid wrong", "dent", "crack", "resin that stays soft", "other", "changed")

Decision = Literal["accept", "mend", "scrap", "open"]
State = Literal["open", "accepted", "to mend", "mended", "scrapped"]


def state_of(decisions: Sequence[Decision], mended: bool) -> State:
    """How a deviation stands after its decisions, in the order of their time; ``mended`` when its job is through.

    >>> state_of([], False), state_of(["accept", "mend"], False), state_of(["mend"], True)
    ('open', 'to mend', 'mended')
    >>> state_of(["scrap"], False), state_of(["scrap", "open"], False)
    ('scrapped', 'open')
    """
    if not decisions or decisions[-1] == "open":
        return "open"
    if decisions[-1] == "mend":
        return "mended" if mended else "to mend"
    return "accepted" if decisions[-1] == "accept" else "scrapped"
