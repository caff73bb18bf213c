"""Covering coat by coat: plain cloth cemented on, shrunk in stages with a calibrated iron, coated, taped over its ribs,
held to them, taped again, filled and blocked against sunlight; colour follows as paint.

The order, coats and hands-on minutes are common practice; the pitch of what holds the cloth is the designer's.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated

from kiteloom.core.base.fields import Asked
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
    LIFT,
    SHARP,
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
from kiteloom.core.build.wet import stage_of, wet
from kiteloom.core.need.supplies import Supply, brushed
from kiteloom.core.stores.fields import SCHOOLS
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.core.weight.part import Stays

#: What first, fill and sunlight coats may be.
COAT_KINDS = ("varnish", "primer", "paint", "cement")


@dataclass(frozen=True)
class Coated(Given):
    """The same, and how many coats go on the cloth."""

    fills: Annotated[int, Asked("Fill coats", "count", low=0, high=8)] = 2
    blocks: Annotated[int, Asked("Coats that block sunlight", "count", low=1, high=6)] = 2


def steps(task: Task[Coated]) -> tuple[Step, ...]:
    """The steps of plain cloth, in order, under stable keys.

    >>> [step.key for step in steps(clothed("cover"))][:6]
    ['look', 'cut', 'cement', 'slack', 'finish', 'first']
    """
    panel, rib_m = panel_in(task)
    must_fit(task, SCHOOLS[0], rib_m)
    cloth, cement, coat, block = cloth_of(task), *(task.products[role] for role in ("cement", "coat", "block"))
    glue = Estimate(40, per_m2_min=25, area_m2=landing_of(task, panel, rib_m))
    found = [*before(task, panel)]
    on = Step("cement", "Cement the cloth on, round its edges first", glue.minutes, 2, (After("cut"),), estimate=glue,
              stations=("wing stands",), holds=True, gate=True, kind="cement", skills=("finishing",))  # fmt: skip
    found.append(replace(wet(on, cement, stage_of(cement.curing, DRY)), practice=practice_of(task)))
    found.append(iron_pass("slack", "Iron its slack out", cloth.slack_c, panel, "cement"))
    found.append(iron_pass("finish", "Iron it to its last setting", cloth.finish_c, panel, "slack"))

    def coats(key: str, name: str, product: ResinSheet, count: int, after: str) -> str:
        estimate = Estimate(15, per_m2_min=6, area_m2=panel.skin_m2)
        for n in range(1, count + 1):
            one = key if count == 1 else f"{key}-{n}"
            said = name if count == 1 else f"{name}, {n} of {count}"
            step = Step(one, said, estimate.minutes, 1, (After(after),), estimate=estimate, stations=("wing stands",),
                        holds=True, kind="coat", skills=("finishing",))  # fmt: skip
            found.append(wet(step, product, stage_of(product.curing, RECOAT)))
            after = one
        return after

    last = coats("first", "Brush the first coat, into the weave", coat, 1, "finish")
    if panel.ribs_m:
        taped = Estimate(15, each_min=3, count=len(panel.ribs_m), piece="ribs")
        found.append(dry("ribs", "Reinforcing tape over every rib", taped, last, caution=SHARP))
        last = "ribs"
    held = held_besides(task, panel, last)
    found += held
    last = held[-1].key if held else last
    tapes = Estimate(30, each_min=6, count=max(round(taped_m(task, panel)), 1), piece="m of tape")
    over = Step("tapes", tapes_words(task), tapes.minutes, 2, (After(last),), estimate=tapes, stations=("wing stands",),
                holds=True, kind="tapes", skills=("finishing",))  # fmt: skip
    found.append(wet(over, cement, stage_of(cement.curing, DRY)))
    last = coats("fill", "Fill coat", coat, task.given.fills, "tapes")
    last = coats("block", "Coat that blocks sunlight", block, task.given.blocks, last)
    found.append(dry("done", "Look it over against the light, weigh it", Estimate(20), last, caution=LIFT))
    return tuple(found)


def uses(task: Task[Coated]) -> tuple[Supply, ...]:
    """Cloth, cement, coats, cord and tape.

    >>> [one.name for one in uses(clothed("cover"))]
    ['Linden', 'Tarn', 'Tarn', 'reinforcing tape', 'Tarn', 'tape over ribs and edges', 'Tarn', 'Tarn', 'Tarn', 'Tarn']
    """
    panel, rib_m = panel_in(task)
    found = [*cloth_and_glue(task, panel, rib_m, {"cement": 1, "tapes": 1})]
    if panel.ribs_m:
        found.append(Supply("ribs", "reinforcing tape", sum(panel.ribs_m), "run", "the girths of its ribs"))
    found += attached(task, panel)
    found.append(
        Supply("tapes", "tape over ribs and edges", taped_m(task, panel), "run", "ribs, edges, ends and openings")
    )
    keys_in_turn = [step.key for step in steps(task)]
    for role, keys in (("coat", ("first", "fill")), ("block", ("block",))):
        for key in keys_in_turn:
            if key.partition("-")[0] in keys:
                found += brushed(key, task.products[role], panel.skin_m2, task.losses)
    return tuple(sorted(found, key=lambda one: keys_in_turn.index(one.step)))


def stays(task: Task[Coated]) -> tuple[Stays, ...]:
    """The cloth on the part, and what dries on it.

    >>> [(one.kind, round(one.grams)) for one in stays(clothed("cover"))][0]
    ('cloth', 791)
    """
    return stays_of(task, uses(task))


RECIPE = Recipe(
    "cover",
    "covering, coat by coat",
    "Plain cloth cemented on, shrunk by iron, coated, taped, held to its ribs, filled, blocked against sunlight.",
    Coated,
    (
        CLOTH,
        Role("cement", "Cement", ("cement",), (DRY,)),
        Role("coat", "First and fill coats", COAT_KINDS, (RECOAT,)),
        Role("block", "Sunlight block", COAT_KINDS, (RECOAT,)),
    ),
    steps,
    items=items,
    supplies=uses,
    stations=("wing stands",),
    shapes=SURFACES,
    wood=stays,
    asks=asks,
    pieces=pieces,
    cut_from="cloth",
    again=restick.AGAIN,
    cloth=flat_of,
    before_closing=(EDGES,),
)
