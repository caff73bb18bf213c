"""What a recipe's mixes, cloth and core leave on the part, step by step."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from kiteloom.core.base.figures import Given
from kiteloom.core.build.task import Need, Task
from kiteloom.core.laminate.cover import Covered, inserts_g
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.core.weight.part import SANDED, Kind, Stays

#: What is mixed for a role, as it stays on the part.
_KINDS: Mapping[str, Kind] = {
    "resin": "resin",
    "paste": "adhesive",
    "glue": "adhesive",
    "filler": "filler",
    "primer": "coat",
    "paint": "coat",
    "varnish": "coat",
}


def what_stays(task: Task[Any], needs: Sequence[Need], covered: Covered | None) -> tuple[Stays, ...]:
    """What of cloth, core and mixes stays on the part, step by step; each step with its share of the cloth.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> skin = example(recipe_of("skin"))
    >>> found = what_stays(skin, recipe_of("skin").needs(skin), skin.covered())
    >>> sum(one.grams for one in found if one.kind == "cloth")  # 3 plies of 280 g/m² on 2 m²
    1680.0
    """
    found: list[Stays] = []
    laid = sum(need.takes.laminate_g for need in needs) or 1.0
    taken_up = sum(need.takes.core_g for need in needs) or 1.0
    for need in needs:
        product, kind = task.products[need.role], _KINDS.get(need.role, "resin")
        if covered is not None and kind == "resin":
            found += _dry(task, need, covered, need.takes.laminate_g / laid, need.takes.core_g / taken_up)
        found += _mixed(need, product, kind)
    return tuple(one for one in found if one.grams > 0)


def _dry(task: Task[Any], need: Need, covered: Covered, share: float, of_core: float) -> Iterator[Stays]:
    cloths: dict[str, float] = {}
    for ply, area in zip(task.laid.plies, covered.plies, strict=True):
        cloths[ply.cloth.name] = cloths.get(ply.cloth.name, 0.0) + area * ply.cloth.areal_weight_g_m2 * share
    for name, grams in cloths.items():
        yield Stays(need.step, "cloth", name, grams, "what its plies cover × its weight")
    core = task.laid.core
    if core is not None:
        grams = covered.core * core.thickness_mm * core.density_kg_m3 * of_core
        yield Stays(need.step, "core", core.name, grams, "what it covers × thickness × density")
        for zone, weighs in zip(task.laid.hard, inserts_g(task.laid, covered), strict=True):
            rule = "what it covers × the core’s thickness × its density"
            yield Stays(need.step, "core", zone.words, weighs * of_core, rule)


def _mixed(need: Need, product: ResinSheet, kind: Kind) -> Iterator[Stays]:
    takes = need.takes
    if kind == "filler":
        left = (Given("left after sanding", 100 * SANDED, "share", assumed=True),)
        yield Stays(need.step, kind, product.name, takes.laminate_g * SANDED, "what is spread × what is left", left)
    elif kind == "coat":
        dries = (Given("left when dry, by weight", 100 * product.solids, "share", "solids" in product.assumed),)
        grams = takes.laminate_g * product.solids
        yield Stays(need.step, kind, product.name, grams, "what is put on × what is left", dries)
    else:
        rule = "what stays in the plies" if kind == "resin" else "what stays in the glue line"
        yield Stays(need.step, kind, product.name, takes.laminate_g, rule)
        yield Stays(
            need.step,
            "uptake",
            f"{product.name}, in the core and its bed",
            takes.core_g,
            "what the core’s faces take up",
        )
