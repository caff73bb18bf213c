"""Parts bonded with a paste adhesive: fitted dry, their faces made ready, bonded while they are.

What makes a face ready depends on what it is (`core/build/faces`); it stays ready for a few hours only, counted from
the first metre to the end of the bonding, and is made ready once more where that is over. Different metals, and carbon
against metal, must never touch: solid beads or a thin glass scrim keep them apart, and set the glue line's thickness.
A joint that closes its part is a gate: whatever needs access comes before.

Hands-on minutes are common practice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.calendar import lasting
from kiteloom.core.base.fields import Asked
from kiteloom.core.build.bond_line import SQUEEZE_OUT, fillet_g, gaps_checked, line_g, thickness_mm
from kiteloom.core.build.faces import FACES, READY_MIN, barrier_between, treatments
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.run_sheet import CLEAN
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, JointSteps, Need, Role, Task
from kiteloom.core.build.wet import life_of, wet
from kiteloom.core.need.resin import spread

#: The stages a paste's sheet must give for this recipe.
HANDLE = "handle"


_DUST = {
    "steel": "Cadmium plating and its dust are poison: wet, gloved, masked, and gathered up.",
}


_SPRUNG = "Clamps spring open: stand aside. Cured squeeze-out cuts: gloves."


_SOLVENT = "Solvents burn and their vapour travels: no flame, fresh air, gloves. Sanding dust: mask, extraction."


@dataclass(frozen=True)
class Given:
    """The glue line, what its two faces are, and whether the joint closes its part."""

    length_m: Annotated[
        float, Asked("Length of the glue line", dimension="length", unit=("m", "in"), low=0.01, high=200)
    ]
    width_m: Annotated[float, Asked("Width of the glue line", dimension="length", unit=("mm", "in"), low=0.002, high=1)]
    thickness_mm: Annotated[
        float,
        Asked("Thickness of the glue line", dimension="length", scale=1e-3, unit=("mm", "in"), low=0.05, high=10),
    ]
    one: Annotated[str, Asked("One face is", "choice", choices=FACES)]
    other: Annotated[str, Asked("The other face is", "choice", choices=FACES)]
    closes: Annotated[bool, Asked("It closes the part", "yes")] = False
    fillets: Annotated[int, Asked("Fillets along it", "count", low=0, high=8)] = 0
    fillet_mm: Annotated[
        float,
        Asked("Radius of a fillet", dimension="length", scale=1e-3, unit=("mm", "in"), low=0, high=50),
    ] = 6.0
    wet: Annotated[bool, Asked("It must last in the wet", "yes")] = False
    least_pct: Annotated[
        float, Asked("Of the glue line must hold", dimension="share", unit=("%", "%"), low=0, high=100)
    ] = 95.0
    people: Annotated[int, Asked("People on it", "count", low=1, high=8)] = 2


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['fit', 'prepare', 'bond', 'look']
    """
    given, paste = task.given, task.products["paste"]
    length = given.length_m
    fit = Estimate(40, each_min=16, count=max(round(length), 1), piece="metres")
    people = min(given.people, math.ceil(length))
    prepare = Estimate(20, each_min=10 / people, count=max(round(2 * length), 1), piece="metres of face")
    bond = Estimate(25, each_min=14 / max(people, 2), count=max(round(length), 1), piece="metres")
    look = Estimate(20, each_min=4, count=max(round(length), 1), piece="metres")
    dust = " ".join(dict.fromkeys(_DUST[face] for face in (given.one, given.other) if face in _DUST))
    barrier = barrier_between(given.one, given.other)
    ready = min(READY_MIN[given.one], READY_MIN[given.other])
    # The first metre is ready when the preparing of the others has only begun, and open until all is bonded.
    spare = ready - prepare.minutes - bond.minutes
    late = ""
    if spare < 0:
        late = (
            f"Its faces stay ready for {lasting(ready)}, and from the first metre to the last clamp it takes "
            f"{lasting(prepare.minutes + bond.minutes)}: take more people, bond it in stretches, or abrade and wipe "
            "the first metres once more just before the paste."
        )
    together = "Close it: paste, clamp, check alignment" if given.closes else "Paste, clamp, check alignment"
    care = " ".join(words for words in (f"Barrier: {barrier}." if barrier else "", late) if words)
    faces = After("prepare", "end", within_min=max(spare, 0.0))
    bonding = Step("bond", together, bond.minutes, people, (faces,), estimate=bond, caution=care,
                   stations=("bench",), holds=True, gate=given.closes, skills=("bonding",),
                   life=life_of(paste))  # fmt: skip
    return (
        Step("fit", "Dry fit, clamp, see the gap with putty", fit.minutes, people, may_pause=True, estimate=fit,
             caution="Sharp edges: gloves. Clamped parts spring: stand aside.", stations=("bench",)),
        Step("prepare", "Make both faces ready", prepare.minutes, people, (After("fit"),), estimate=prepare,
             caution=f"{_SOLVENT} {dust}".strip(), stations=("bench",), listed=True, fades=True),
        wet(bonding, paste, HANDLE, closed=True),
        Step("look", "Unclamp, tap every joint, mark voids", look.minutes, 1, (After("bond"),), may_pause=True,
             estimate=look, caution=_SPRUNG, stations=("bench",)),
    )  # fmt: skip


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed paste: the glue line, as thick as the dry fit showed, what is squeezed out of it, and its fillets.

    >>> line = Given(3.0, 0.02, 0.5, "wood", "wood")
    >>> [(need.step, round(need.takes.total_g)) for need in needs(replace(example(RECIPE), given=line))]
    [('bond', 54)]
    """
    given, density = task.given, task.products["paste"].cured_density_g_ml
    gaps = gaps_checked(task.gaps, given.length_m)
    thick = thickness_mm(given.thickness_mm, gaps, given.length_m)
    line = line_g(given.length_m, given.width_m, thick, density)
    fillets = fillet_g(given.length_m, given.fillets, given.fillet_mm, density)
    # What is squeezed out goes beside the part; a fillet stays on it.
    beside = line * (SQUEEZE_OUT - 1) / (line + fillets)
    return (Need("bond", "paste", spread(line + fillets, task.losses, beside)),)


def items(task: Task[Given], step: str) -> tuple[Item, ...]:
    """The run sheets of a joint with paste: of its faces, and of the bonding.

    >>> [item.key for item in items(example(RECIPE), "prepare")][:3]
    ['one/wash', 'one/abrade', 'one/wipe']
    >>> [item.key for item in items(example(RECIPE), "bond")]
    ['ready', 'faces', 'paste', 'together', 'clamp', 'align', 'squeeze', 'wipe', 'clean']
    """
    if step == "prepare":
        both = zip(("one", "other"), task.faces, (task.given.one, task.given.other), strict=True)
        return tuple(
            Item(f"{side}/{one.key}", f"{name}, {face}: {one.does}", one.detail, asks=one.asks)
            for side, name, face in both
            for one in treatments(face, wet=task.given.wet)
        )
    barrier = barrier_between(task.given.one, task.given.other)
    return (
        Item("ready", "Everything is laid ready", "Clamps set to width, pads, wedges, a straight edge, wipes."),
        Item("faces", "Both faces are ready and still clean", "Water runs in a film; no finger has touched them."),
        *([Item("barrier", f"Barrier: {barrier}")] if barrier else []),
        Item("paste", "Paste mixed in small cups, combed onto both faces"),
        Item("together", "Parts together in one move, no sliding about"),
        Item("clamp", "Clamped from the middle outwards: contact, no more"),
        Item("align", "Alignment checked again before it sets"),
        Item("squeeze", "Squeeze-out all round; a photograph of it"),
        Item("wipe", "Squeeze-out struck off into a fillet, where it would lock nothing that must stay loose"),
        CLEAN,
    )


RECIPE = Recipe(
    "bond",
    "bonding with paste",
    "Fitted dry, both faces made ready, bonded while they are.",
    Given,
    (Role("paste", "Paste adhesive", ("paste adhesive",), ((HANDLE,),)),),
    steps,
    needs,
    items,
    stations=("bench",),
    joint=JointSteps("prepare", "bond", "paste"),
)
