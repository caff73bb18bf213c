"""A bond line: what it takes with squeeze-out and fillets, what its faces want, and what keeps two metals apart."""

from __future__ import annotations

import math
from typing import Literal, get_args

from kiteloom.core.base.problems import Refused, between

Face = Literal["cured laminate", "carbon", "aluminium", "steel", "wood"]
FACES: tuple[str, ...] = get_args(Face)
#: Squeeze-out all round: so much more than the glue line holds (common practice) [-].
SQUEEZE_OUT = 1.5
_METALS = ("aluminium", "steel")
_LAMINATE = "wash the blush off with water, abrade, wipe; water must run in a film, then dry it"
#: What makes a face ready, in order (common practice).
PREPARE: dict[str, str] = {
    "cured laminate": _LAMINATE,
    "carbon": _LAMINATE,
    "aluminium": "degrease, abrade, wipe; etch or conversion coat where it must last in the wet",
    "steel": "take the plating off at the joint, abrade, wipe",
    "wood": "plane or cut a fresh face, plywood sanded lightly; moisture 8 to 12 % and alike on both sides",
}


def line_g(length_m: float, width_m: float, thickness_mm: float, density_g_ml: float) -> float:
    """What a glue line holds: length × width × thickness × density [g].

    >>> round(line_g(3.0, 0.02, 0.5, 1.1), 1)
    33.0
    """
    between("length_m", length_m, 0, 1000, unit="m", name="the length of the glue line", open_low=True)
    between("width_m", width_m, 0, 10, unit="m", name="the width of the glue line", open_low=True)
    between("thickness_mm", thickness_mm, 0, 100, unit="mm", name="the thickness of the glue line", open_low=True)
    between("density_g_ml", density_g_ml, 0.1, 25, unit="g/ml", name="the density")
    return length_m * width_m * thickness_mm * 1000 * density_g_ml


def fillet_g(length_m: float, fillets: int, radius_mm: float, density_g_ml: float) -> float:
    """What fillets along a joint hold: concave, of a radius, in a right corner, (1 − π/4)·r² each [g].

    >>> round(fillet_g(2.0, 2, 6.0, 1.1), 1)
    34.0
    """
    between("fillets", fillets, 0, 20, name="the number of fillets")
    between("fillet_mm", radius_mm, 0, 100, unit="mm", name="the radius of a fillet")
    return fillets * (1 - math.pi / 4) * radius_mm**2 * length_m * density_g_ml


def barrier_between(one: str, other: str) -> str:
    """What keeps two faces apart; ``""`` where nothing must.

    >>> barrier_between("carbon", "aluminium")
    'a glass ply between: carbon must not touch metal'
    """
    for face in (one, other):
        if face not in FACES:
            raise Refused("faces", f"“{face[:40]}” is no face; they are {', '.join(FACES)}")
    pair = {one, other}
    if "carbon" in pair and pair & set(_METALS):
        return "a glass ply between: carbon must not touch metal"
    if pair == set(_METALS):
        return "solid glass beads or a thin glass scrim: the metals must not touch"
    return ""
