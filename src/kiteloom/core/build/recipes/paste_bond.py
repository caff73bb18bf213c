"""Parts bonded with a paste adhesive: fitted dry, their faces made ready, bonded while they are.

What makes a face ready depends on what it is; it stays ready for a few hours only, so the
bonding must follow. Different metals, and carbon against metal, must never touch: solid beads
or a thin glass scrim keep them apart, and set the glue line's thickness. A joint that closes
its part is a gate: whatever needs access comes before.

Hands-on minutes and the hours a face stays ready are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem
from kiteloom.core.need.resin import Losses, ResinNeed

NAME = "bonding with paste"


#: The stages a paste's sheet must give for this recipe.
HANDLE = "handle"


Face = Literal["cured laminate", "carbon", "aluminium", "steel", "wood"]


#: Squeeze-out all round: so much more than the glue line holds (common practice) [-].
SQUEEZE_OUT = 1.5


#: How long a face stays ready once it is wiped, or cut (common practice) [min].
READY_MIN: dict[str, float] = {"cured laminate": 240, "carbon": 240, "aluminium": 120, "steel": 120, "wood": 480}


_METALS = ("aluminium", "steel")


_PREPARE: dict[str, str] = {
    "cured laminate": "wash the blush off with water, abrade, wipe: water must run in a film",
    "carbon": "wash the blush off with water, abrade, wipe: water must run in a film",
    "aluminium": "degrease, abrade, wipe; etch or conversion coat where it must last in the wet",
    "steel": "take the plating off at the joint, abrade, wipe",
    "wood": "plane or cut a fresh face, do not sand it; moisture 8 to 12 % and alike on both sides",
}


_DUST = {
    "steel": "Cadmium plating and its dust are poison: wet, gloved, masked, and gathered up.",
}


_SOLVENT = "Solvents burn and their vapour travels: no flame, fresh air, gloves. Sanding dust: mask, extraction."


_GLUE = "Hardener sensitises skin: gloves, sleeves, fresh air."


@dataclass(frozen=True)
class BondJob:
    """What the recipe is given.

    Parameters
    ----------
    length_m, width_m, thickness_mm : float
        The glue line.
    one, other : str
        What the two faces are.
    closes : bool
        Whether the joint closes its part.
    """

    length_m: float
    width_m: float
    thickness_mm: float
    one: str
    other: str
    paste: CureSystem
    density_g_ml: float
    losses: Losses
    closes: bool = False

    def __post_init__(self) -> None:
        between("bond_length_m", self.length_m, 0.01, 200, unit="m", name="the glue line's length")
        between("bond_width_m", self.width_m, 0.002, 1, unit="m", name="the glue line's width")
        between("bond_thickness_mm", self.thickness_mm, 0.05, 10, unit="mm", name="the glue line's thickness")
        for face in (self.one, self.other):
            if face not in READY_MIN:
                raise Refused("face", f"“{face}” is not a face that is known; they are {', '.join(get_args(Face))}")
        self.paste.hours(HANDLE)

    @property
    def barrier(self) -> str:
        """What keeps the faces apart; ``""`` where nothing must."""
        return barrier_between(self.one, self.other)


def barrier_between(one: str, other: str) -> str:
    """What keeps two faces apart; ``""`` where nothing must."""
    pair = {one, other}
    if "carbon" in pair and pair & set(_METALS):
        return "a glass ply between: carbon must not touch metal"
    if pair == set(_METALS):
        return "solid glass beads or a thin glass scrim: the metals must not touch"
    return ""


def steps(job: BondJob) -> tuple[Step, ...]:
    """The steps, in order, under stable keys."""
    length = job.length_m
    fit = Estimate(40, each_min=16, count=max(round(length), 1), piece="metres")
    prepare = Estimate(20, each_min=10, count=max(round(2 * length), 1), piece="metres of face")
    bond = Estimate(25, each_min=7, count=max(round(length), 1), piece="metres")
    look = Estimate(20, each_min=4, count=max(round(length), 1), piece="metres")
    ways = dict.fromkeys(f"{face}: {_PREPARE[face]}" for face in (job.one, job.other))
    dust = " ".join(dict.fromkeys(_DUST[face] for face in (job.one, job.other) if face in _DUST))
    barrier = f" Barrier: {job.barrier}." if job.barrier else ""
    people = 2 if length > 1 else 1
    return (
        Step("fit", "Dry fit, clamp, see the gap with putty", fit.minutes, people, may_pause=True, estimate=fit,
             caution="Sharp edges: gloves. Clamped parts spring: stand aside.", stations=("bench",)),
        Step("prepare", "Make both faces ready", prepare.minutes, 1, (After("fit"),), estimate=prepare,
             caution=f"{'; '.join(ways)}. {_SOLVENT} {dust}".strip(), stations=("bench",)),
        Step("bond", "Close it: paste, clamp, check alignment" if job.closes else "Paste, clamp, check alignment",
             bond.minutes, people, (After("prepare", within_min=min(READY_MIN[job.one], READY_MIN[job.other])),),
             job.paste, HANDLE, estimate=bond, caution=f"{_GLUE}{barrier}", stations=("bench",), holds=True,
             min_c=job.paste.min_c, margin_k=3.0, limits_until=job.paste.stages[0].name, gate=job.closes,
             skills=("bonding",)),
        Step("look", "Unclamp, tap every joint, mark voids", look.minutes, 1, (After("bond"),), may_pause=True,
             estimate=look, caution=_SOLVENT, stations=("bench",)),
    )  # fmt: skip


def paste_needs(job: BondJob) -> dict[str, ResinNeed]:
    """Mixed paste by step key: the glue line and what is squeezed out of it."""
    line = job.length_m * job.width_m * job.thickness_mm * 1000 * job.density_g_ml
    used = line * SQUEEZE_OUT
    cup = used / (1 - job.losses.cup_pct / 100) - used
    return {"bond": ResinNeed(line, 0, line * (SQUEEZE_OUT - 1), 0, cup)}
