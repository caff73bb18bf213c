"""Twist of a panel, read before, between and after its skins: whether a skin has pulled it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

#: A panel that changed by more is looked into before the next skin (common practice) [°].
TOLERANCE_DEG = 0.25


#: More than this is not a twist that was read, but a slip of the pencil [°].
MOST_DEG = 15.0


@dataclass(frozen=True)
class Twist:
    """One reading: when, in words, and what was found, tip against root, nose up positive [°]."""

    when: str
    found_deg: float


def judged(readings: Sequence[Twist]) -> tuple[str, bool]:
    """What the readings say together, and whether the last change is within tolerance.

    >>> judged([Twist("before", 0.1), Twist("between", 0.3)])
    ('Twist between is 0.30°, before it was 0.10°: it has moved 0.20°, within 0.25°.', True)
    """
    if not readings:
        return "No twist was read yet.", True
    last = readings[-1]
    if len(readings) == 1:
        return f"Twist {last.when} is {last.found_deg:.2f}°.", True
    first = readings[-2]
    moved = last.found_deg - first.found_deg
    words = f"Twist {last.when} is {last.found_deg:.2f}°, {first.when} it was {first.found_deg:.2f}°: it has moved "
    if abs(moved) > TOLERANCE_DEG + 1e-9:
        return f"{words}{abs(moved):.2f}°, more than {TOLERANCE_DEG:g}°. Find out why before the next skin.", False
    return f"{words}{abs(moved):.2f}°, within {TOLERANCE_DEG:g}°.", True
