"""The order of joints as links between their bonding steps."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping

from kiteloom.core.build.joint_order import Order
from kiteloom.core.build.step import After


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
