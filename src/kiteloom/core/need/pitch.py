"""The pitch of ribs against the width of the sheets that go over them: what divides evenly wastes nothing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between


@dataclass(frozen=True)
class Ribs:
    """A skin over ribs at a pitch [m]: how far a sheet goes when its edge must lie on a rib [m], how many sheets and
    ribs it takes, and what is cut off [%].
    """

    pitch_m: float
    used_m: float
    sheets: int
    ribs: int
    waste_pct: float

    def hours(self, rib_min: float, joint_min: float) -> float:
        """Hands-on hours at so long a rib, and so long a joint of two sheets [min].

        >>> Ribs(0.3, 1.2, 3, 10, 0.0).hours(45, 60)
        9.5
        """
        return (self.ribs * rib_min + (self.sheets - 1) * joint_min) / 60


def over_ribs(span_m: float, sheet_m: float, pitches_m: Sequence[float]) -> tuple[Ribs, ...]:
    """Sheets along a span whose joints must lie on ribs: how many it takes at each pitch, and what is cut off.

    Parameters
    ----------
    span_m, sheet_m : float
        The span, and how far a sheet goes along it [m].
    pitches_m : sequence of float
        From one rib to the next [m].

    Raises
    ------
    Refused
        For a sheet narrower than one pitch: its joint has no rib to lie on.

    Examples
    --------
    >>> [(one.sheets, one.ribs, round(one.waste_pct, 1)) for one in over_ribs(96, 48, [12, 15])]
    [(2, 9, 0.0), (3, 8, 33.3)]
    """
    between("span", span_m, 0, 100, unit="m", open_low=True)
    between("sheet", sheet_m, 0, 100, unit="m", open_low=True)
    found = []
    for pitch in pitches_m:
        between("pitch", pitch, 0, 100, unit="m", open_low=True)
        bays = math.floor(sheet_m / pitch + 1e-9)
        if bays < 1:
            raise Refused("pitch", f"ribs at {pitch:g} m: a sheet of {sheet_m:g} m has no second one to lie on")
        used = bays * pitch
        sheets = math.ceil(span_m / used - 1e-9)
        ribs = math.ceil(span_m / pitch - 1e-9) + 1
        found.append(Ribs(pitch, used, sheets, ribs, 100 * (1 - span_m / (sheets * sheet_m))))
    return tuple(found)
