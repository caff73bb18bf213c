"""Whether a part goes into a room, a cupboard or a box at all."""

from __future__ import annotations

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.quantities import UnitSystem, show

#: How long a part may be that goes in.
LONGEST = Asked("Takes parts up to", dimension="length", unit=("m", "in"), low=0, high=100, open_low=True)


def too_long(part: str, part_m: float | None, room: str, room_m: float | None, units: UnitSystem = "metric") -> str:
    """That a part is longer than a room takes, in words; ``""`` when it goes in, or nobody said.

    >>> too_long("Left wing", 7.2, "Warm cupboard", 1.2)
    'Left wing is 7.200 m long, and the warm cupboard takes parts up to 1.200 m.'
    >>> too_long("Rib", 0.8, "Warm cupboard", 1.2), too_long("Rib", 0.8, "Main shop", None)
    ('', '')
    """
    if part_m is None or room_m is None or part_m <= room_m:
        return ""
    long, takes = (show(metres, "length", units) for metres in (part_m, room_m))
    return f"{part} is {long} long, and the {room.lower()} takes parts up to {takes}."
