"""Covering with pre-finished cloth: coloured and sealed, set by the iron on two coats of adhesive on either face, each
dried; its slack is taken up, it is made tight, its edges are taped, and it is done.

The order, the coats on either face and hands-on minutes are common practice; the cloth maker decides.
"""

from __future__ import annotations

from dataclasses import replace
from typing import cast

from kiteloom.core.build.closing import EDGES
from kiteloom.core.build.clothing import (
    CLOTH,
    DRY,
    RECOAT,
    Given,
    asks,
    cloth_of,
    flat_of,
    landing_of,
    must_fit,
    panel_in,
    pieces,
    practice_of,
)
from kiteloom.core.build.clothing_steps import (
    IRON,
    LIFT,
    attached,
    before,
    cloth_and_glue,
    dry,
    held_besides,
    iron_pass,
    items,
    stays_of,
    taped_m,
    tapes_words,
)
from kiteloom.core.build.recipe import SURFACES, Recipe
from kiteloom.core.build.recipes import restick
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Role, Task
from kiteloom.core.build.wet import limited, stage_of, wet
from kiteloom.core.need.supplies import Supply
from kiteloom.core.stores.fields import SCHOOLS
from kiteloom.core.stores.materials import EdgeTape
from kiteloom.core.weight.part import Stays

#: Coats of adhesive on either face (common practice for heat-set adhesive).
COATS_EACH = 2
#: In a straight shot the next begins so soon after the one before is dry (common practice) [min].
SHOT_MIN = 45.0
#: Where cloth that carries adhesive lies until the hour it is used.
WARM = "warm place"


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps of pre-finished cloth, in order, under stable keys.

    >>> [step.key for step in steps(clothed("wrap"))]
    ['look', 'cut', 'frame-1', 'frame-2', 'cloth-1', 'cloth-2', 'set', 'slack', 'finish', 'tapes', 'done']
    """
    panel, rib_m = panel_in(task)
    must_fit(task, SCHOOLS[1], rib_m)
    cloth, glue = cloth_of(task), task.products["cement"]
    tape = cast(EdgeTape, task.materials["tape"])
    land = landing_of(task, panel, rib_m)
    found = [*before(task, panel)]
    practice = practice_of(task)
    last, last_of = "cut", dict[str, After]()
    brush = Estimate(15, per_m2_min=20, area_m2=land)
    again, holds = stage_of(glue.curing, RECOAT), stage_of(glue.curing, DRY)
    for key, name in (("frame", "Adhesive on the frame"), ("cloth", "Adhesive on the cloth")):
        after = After(last)
        # On the frame it is one straight shot: as soon as one is dry, the next. Cloth waits in the warm.
        place = ("wing stands",) if key == "frame" else (WARM,)
        for n in range(1, COATS_EACH + 1):
            step = Step(f"{key}-{n}", f"{name}, coat {n} of {COATS_EACH}", brush.minutes, 1, (after,), estimate=brush,
                        stations=place, holds=key == "cloth", kind="adhesive", skills=("finishing",))  # fmt: skip
            stage = again if n < COATS_EACH else holds
            wetted = wet(step, glue, stage)
            if key == "frame":
                wetted = replace(wetted, limits_until="wait")
            # Where the cloth will be seen it begins after what is practised on; that is done when its cloth is on.
            found.append(replace(wetted, practice="after") if n == 1 and practice == "after" else wetted)
            after = After(step.key, stage, within_min=SHOT_MIN if key == "frame" else None)
        last_of[key] = after
    lay = Estimate(30, per_m2_min=30, area_m2=land)
    both = tuple(last_of.values())
    on = Step("set", "Lay the cloth on, set it with the iron: edges, then ribs", lay.minutes, 2, both, estimate=lay,
              caution=IRON, stations=("wing stands",), gate=True, kind="set", skills=("finishing",),
              listed=True)  # fmt: skip
    # Until it is set it may not be colder than its adhesive stands.
    found.append(replace(limited(on, glue), limits_until="end", practice="first" if practice == "first" else ""))
    found.append(iron_pass("slack", "Iron its slack out", cloth.slack_c, panel, "set"))
    found.append(iron_pass("finish", "Iron it tight", cloth.finish_c, panel, "slack"))
    held = held_besides(task, panel, "finish")
    found += held
    metres = max(round(taped_m(task, panel)), 1)
    named = (("to tack at", tape.tack_c), ("to finish at", tape.finish_c), ("below", tape.limit_c))
    heats = tuple((words, celsius) for words, celsius in named if celsius is not None)
    tapes = Estimate(20, each_min=4, count=metres, piece="m of tape")
    care = f"{IRON} At its limit a tape shrinks and is ruined; never peel one off cold."
    found.append(dry("tapes", tapes_words(task), tapes, held[-1].key if held else "finish", caution=care,
                     skills=("finishing",), heats=heats, listed=True))  # fmt: skip
    found.append(dry("done", "Look it over against the light, weigh it", Estimate(20), "tapes", caution=LIFT))
    return tuple(found)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Cloth, adhesive by coats on either face, cord and edge tape.

    >>> [(one.name, one.kind) for one in uses(clothed("wrap"))][:2]
    [('Linden', 'run'), ('Tarn', 'volume')]
    """
    panel, rib_m = panel_in(task)
    tape = cast(EdgeTape, task.materials["tape"])
    glued = {f"{face}-{n}": 1 for face in ("frame", "cloth") for n in range(1, COATS_EACH + 1)}
    return (
        *cloth_and_glue(task, panel, rib_m, glued),
        *attached(task, panel),
        Supply("tapes", tape.name, taped_m(task, panel), "run", "ribs, edges, ends and openings"),
    )


def stays(task: Task[Given]) -> tuple[Stays, ...]:
    """The cloth on the part, and what dries on it.

    >>> [(one.kind, round(one.grams)) for one in stays(clothed("wrap"))][0]
    ('cloth', 791)
    """
    return stays_of(task, uses(task))


RECIPE = Recipe(
    "wrap",
    "covering with pre-finished cloth",
    "Coloured, sealed cloth set by iron on adhesive that dried on both faces; no paint after.",
    Given,
    (CLOTH, Role("cement", "Heat-set adhesive", ("cement",), (DRY,)), Role("tape", "Edge tape", ("tape",))),
    steps,
    items=items,
    supplies=uses,
    stations=("wing stands", WARM),
    shapes=SURFACES,
    wood=stays,
    asks=asks,
    pieces=pieces,
    cut_from="cloth",
    again=restick.AGAIN,
    cloth=flat_of,
    before_closing=(EDGES,),
)
