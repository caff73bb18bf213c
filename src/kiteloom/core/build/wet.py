"""Steps with something wet: their cure, wait, limits and hazards, from the product's sheet."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from kiteloom.core.air.moisture import LEAST_MARGIN_K
from kiteloom.core.build.step import USE_BY, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.stores.fields import CAUTIONS, HAZARD_OF
from kiteloom.core.stores.materials import ResinSheet


def stage_of(cure: CureSystem, names: tuple[str, ...]) -> str:
    """The first of several names for much the same stage that a sheet gives; `Refused` when it gives none.

    >>> stage_of(EPOXY, ("recoat", "peel", "gel"))
    'peel'
    """
    for name in names:
        if cure.has(name):
            return name
    cure.hours(names[-1])
    raise AssertionError("unreachable")


def hazards_of(product: ResinSheet) -> str:
    """What can hurt whoever works with a product, and the usual care; as its sheet names it, and its chemistry does.

    >>> hazards_of(product(EPOXY))
    'Hardener sensitises skin: gloves and sleeves; wash with soap, never with solvent.'
    """
    usual = HAZARD_OF.get(product.chemistry)
    return cautions([*product.hazards, *([usual] if usual else [])])


def cautions(hazards: Iterable[str]) -> str:
    """Hazards by their names, each once, and the usual care.

    >>> cautions(["Static", "Static"])
    'Static: earth the can; no plastic funnel.'
    """
    known = [(name, CAUTIONS[name]) for name in dict.fromkeys(hazards) if name in CAUTIONS]
    return " ".join(f"{name}: {care[0].lower()}{care[1:]}" for name, care in known)


def limited(step: Step, product: ResinSheet) -> Step:
    """A step held to the air its product's sheet allows while something wet lies open.

    >>> limited(Step("coat", "Coat it", 40), product(EPOXY, max_rh_pct=70.0)).margin_k
    3.0
    """
    return replace(
        step,
        min_c=product.curing.min_c,
        max_c=product.max_c,
        max_rh_pct=product.max_rh_pct,
        margin_k=LEAST_MARGIN_K,
    )


#: The stages by which what is bagged or clamped must be closed, the sooner first.
OPEN_TIME = ("open", "gel")


def wet(step: Step, product: ResinSheet, until: str, *, closed: bool = False) -> Step:
    """A step worked with an open product: its cure and wait, the limits of its sheet, and its hazards.

    ``closed`` when a bag or clamps go on at its end: they must be on while the first mix still flows.

    Least and most temperature, humidity and dew margin must hold until the first stage by its hours:
    until then what lies open can be spoiled by the air. What the step itself cautions of stands after the hazards.

    >>> step = wet(Step("coat", "Coat it", 40), product(EPOXY, max_rh_pct=70.0), "peel")
    >>> step.wait_stage, step.min_c, step.max_rh_pct
    ('peel', 12, 70.0)
    """
    cure = product.curing
    return replace(
        limited(step, product),
        cure=cure,
        wait_stage=until,
        limits_until=cure.first.name,
        closed_by=next((stage for stage in OPEN_TIME if closed and cure.has(stage)), ""),
        caution=f"{hazards_of(product)} {step.caution}".strip(),
    )


def life_of(product: ResinSheet) -> CureSystem | None:
    """How long a mix can be used, by its sheet's pot life, faster when warm; None where it says nothing.

    >>> life_of(product(EPOXY)) is None  # its sheet gives no pot life
    True
    """
    if product.pot_life is None:
        return None
    return product.curing.paced(product.pot_life.temp_c, (Stage(USE_BY, product.pot_life.minutes / 60),))
