"""The order of joints as links between their bonding steps."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping
from dataclasses import replace

from kiteloom.core.build.joint_order import Order
from kiteloom.core.build.step import USE_BY, After, Step
from kiteloom.core.mix.cups import LIFE_SHARE

#: What a joint takes besides its metres where the one before was worked with the same mix: nothing is laid ready or
#: weighed once more (common practice) [min].
NEXT_MIN = 5.0


def in_turn(order: Order, bonds: Mapping[str, str]) -> dict[str, tuple[After, ...]]:
    """What each joint's bonding comes after, by its step's key.

    What had to be done for a joint is hard before it begins. Between two safe stops one joint follows the other at
    once, also while the first is still setting; beyond a safe stop nothing binds them.

    Parameters
    ----------
    bonds : mapping
        The keys of the bonding steps, by joint; a joint without one is left out.

    >>> from kiteloom.core.build.joint_order import Joint, joint_order
    >>> found = joint_order([Joint("a", ("rib",)), Joint("b", ("rib",)), Joint("c", ("seat",), after=("a",))])
    >>> {key: [(one.step, one.until) for one in mine] for key, mine in in_turn(found, {j: j for j in "abc"}).items()}
    {'c': [('a', 'wait')], 'b': [('a', 'end')]}
    """
    found: dict[str, dict[str, After]] = defaultdict(dict)
    for first, then in order.first:
        if first in bonds and then in bonds:
            found[bonds[then]][bonds[first]] = After(bonds[first])
    before: str | None = None
    for joint in order.order:
        if joint not in bonds:
            continue
        key = bonds[joint]
        if before is not None and before not in found[key]:
            found[key][before] = After(before, "end")
        before = None if joint in order.breaks else key
    return {key: tuple(links.values()) for key, links in found.items() if links}


def one_mix(
    order: Order,
    bonds: Mapping[str, Step],
    mixes: Mapping[str, str],
    pot_min: Mapping[str, float],
    begun: Collection[str],
) -> dict[str, Step]:
    """Bonding steps that are worked with what the one before mixed, by their keys: sooner done, and tied to its life.

    Joints that follow each other between two safe stops, of one product, not begun, are worked together for as long as
    a share of its pot life allows; none waits for another to set.

    Parameters
    ----------
    bonds : mapping
        The bonding steps by joint, linked as they follow each other.
    mixes, pot_min : mapping
        The product of each joint, and its pot life by product [min]; a product without one is left out.
    begun : collection
        The keys of steps that were begun.
    """
    found: dict[str, Step] = {}
    before: str | None = None
    used = 0.0
    for joint in order.order:
        step = bonds.get(joint)
        life = pot_min.get(mixes.get(joint, ""))
        if step is None or life is None or step.refused or step.key in begun:
            before = None
            continue
        first = bonds[before] if before is not None else None
        link = next((one for one in step.after if first is not None and one.step == first.key), None)
        quick = goes_on(step)
        if (
            first is not None and link is not None and link.until == "end" and mixes[joint] == mixes.get(before or "")
            and used + quick.length <= LIFE_SHARE * life
        ):  # fmt: skip
            used += quick.length
            tied = replace(link, closes=USE_BY, same_mix=True, uses_min=quick.length)
            others = tuple(one for one in step.after if one is not link)
            # It lies where the first of them lies.
            found[step.key] = replace(quick, after=(*others, tied), stations=(), holds=False)
        else:
            used = step.wet_min  # laid ready before it is mixed
        before = None if joint in order.breaks else joint
    return found


def goes_on(step: Step) -> Step:
    """The same work where the one before was worked with the same mix or tool: nothing is laid ready once more.

    >>> from kiteloom.core.build.step import Estimate
    >>> goes_on(Step("coat", "Coat", 40, estimate=Estimate(20, per_m2_min=10, area_m2=2.0))).minutes
    25.0
    """
    if step.estimate is None or step.estimate.fixed_min <= NEXT_MIN:
        return step
    less = replace(step.estimate, fixed_min=NEXT_MIN)
    return replace(step, minutes=less.minutes, estimate=less)
