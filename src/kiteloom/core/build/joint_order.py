"""The order of glued or bolted joints: what must be loose or located comes right, and it is safe to stop soonest.

A part is half fixed from the first joint that fixes it until the last of them is done; it is safe to stop where none
is. So between two safe stops lie whole groups of joints that share parts; groups that need each other are done
together. That is exact at any size: the longest stretch is the largest of those, and each of them ends at a safe stop.
"""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from kiteloom.core.base.problems import Refused, between

#: More joints than this are no one order.
MOST_JOINTS = 200
#: So many sets are looked at for the fewest joints that contradict each other.
_SETS = 200_000


@dataclass(frozen=True)
class Joint:
    """A joint and what it asks for.

    Parameters
    ----------
    fixes : tuple of str
        Parts it fixes.
    loose : tuple of str
        Parts that no earlier joint may have fixed.
    located : tuple of str
        Parts that must be fixed already.
    after : tuple of str
        Joints that come before it.
    shuts : tuple of str
        Joints that can't be reached any more once it is done: they come before it too.
    """

    id: str
    fixes: tuple[str, ...] = ()
    loose: tuple[str, ...] = ()
    located: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    shuts: tuple[str, ...] = ()


@dataclass(frozen=True)
class Because:
    """Why a joint comes when it does."""

    id: str
    says: str


@dataclass(frozen=True)
class Order:
    """An order, the joints after which it is safe to stop, and the largest number from one such stop to the next.

    ``first`` are pairs of which the first had to be done for the second to be done.
    """

    order: tuple[str, ...]
    breaks: tuple[str, ...]
    longest: int
    because: tuple[Because, ...]
    first: tuple[tuple[str, str], ...] = ()


class Contradiction(Refused):
    """Joints that can't all be done: the fewest of them, by name."""

    def __init__(self, sentence: str, names: Sequence[str]) -> None:
        super().__init__("joints", sentence)
        self.names = tuple(names)


@dataclass(frozen=True)
class _Need:
    """One of some joints must come before, and why."""

    any_of: frozenset[int]
    says: str


def joint_order(joints: Sequence[Joint]) -> Order:
    """The order with the shortest longest stretch between safe stops, then the most stops, then as it was given.

    Raises
    ------
    Refused
        For an id that is there twice or not at all, a part that nothing locates, and joints that contradict each other:
        then the fewest that do are named.

    >>> found = joint_order([Joint("a", ("spar", "rib")), Joint("b", ("rib", "edge")), Joint("c", ("seat",))])
    >>> found.order, found.breaks, found.longest
    (('a', 'b', 'c'), ('b', 'c'), 2)
    >>> joint_order([Joint("a", ("rib",), after=("b",)), Joint("b", located=("rib",))])  # doctest: +ELLIPSIS
    Traceback (most recent call last):
    kiteloom.core.build.joint_order.Contradiction: a and b contradict each other: a ...
    """
    between("joints", len(joints), 0, MOST_JOINTS, name="the number of joints")
    needs = _needs(joints)
    stretches = _stretches(joints, needs)
    _contradiction(joints, needs)
    inner = [list(_sequence(stretch, needs)) for stretch in stretches]
    where = {n: s for s, stretch in enumerate(stretches) for n in stretch}
    left = [{where[i] for n in stretch for need in needs[n] for i in need.any_of} - {s}
            for s, stretch in enumerate(stretches)]  # fmt: skip
    ready = [(inner[s][0], s) for s in range(len(stretches)) if not left[s]]
    heapq.heapify(ready)
    order: list[int] = []
    stops: list[int] = []
    while ready:
        _, s = heapq.heappop(ready)
        order += inner[s]
        stops.append(inner[s][-1])
        for other, waits in enumerate(left):
            if s in waits:
                waits.discard(s)
                if not waits:
                    heapq.heappush(ready, (inner[other][0], other))
    ids = [joint.id for joint in joints]
    place = {n: at for at, n in enumerate(order)}
    first = {(min(need.any_of, key=place.__getitem__), n): None for n in order for need in needs[n]}
    return Order(
        tuple(ids[n] for n in order),
        tuple(ids[n] for n in stops),
        max((len(stretch) for stretch in stretches), default=0),
        tuple(_because(joints, needs, order, frozenset(stops), where)),
        tuple((ids[one], ids[then]) for one, then in first),
    )


def _fixing(joints: Sequence[Joint]) -> Mapping[str, frozenset[int]]:
    found: dict[str, set[int]] = defaultdict(set)
    for n, joint in enumerate(joints):
        for part in joint.fixes:
            found[part].add(n)
    return {part: frozenset(mine) for part, mine in found.items()}


def _needs(joints: Sequence[Joint]) -> list[list[_Need]]:
    """What each joint needs before it; `Refused` where something is named that is not there."""
    number: dict[str, int] = {}
    for n, joint in enumerate(joints):
        if not joint.id.strip():
            raise Refused(f"joints.{n}.id", f"joint {n + 1} has no name")
        if joint.id in number:
            raise Refused(f"joints.{n}.id", f"two joints are called “{joint.id}”; each wants its own name")
        number[joint.id] = n
    fixing = _fixing(joints)
    found: list[list[_Need]] = [[] for _ in joints]
    for n, joint in enumerate(joints):
        for name in joint.after:
            if name not in number:
                raise Refused(f"joints.{n}.after", f"{joint.id} comes after “{name}”, which is no joint of the list")
            found[n].append(_Need(frozenset([number[name]]), f"{joint.id} comes after {name}"))
        for name in joint.shuts:
            if name not in number:
                raise Refused(f"joints.{n}.shuts", f"{joint.id} shuts off “{name}”, which is no joint of the list")
            found[n].append(_Need(frozenset([number[name]]), f"{name} could not be reached after {joint.id}"))
        for part in joint.loose:
            for other in fixing.get(part, frozenset()) - {n}:
                says = f"{joint.id} needs {part} loose, {joints[other].id} fixes it"
                found[other].append(_Need(frozenset([n]), says))
        for part in joint.located:
            if part not in fixing:
                raise Refused(
                    f"joints.{n}.located", f"{joint.id} needs {part} located, and no joint of the list fixes it"
                )
            others = fixing[part] - {n}
            by = " or ".join(joints[i].id for i in sorted(others))
            says = f"{joint.id} needs {part} located, {f'{by} fixes it' if others else 'and only itself fixes it'}"
            found[n].append(_Need(others, says))
    return found


def _stretches(joints: Sequence[Joint], needs: Sequence[Sequence[_Need]]) -> list[list[int]]:
    """Joints that lie between the same two safe stops, in the order given: linked by parts, or needing each other."""
    # To share a part is to need each other: both ways.
    links = [(min(mine), n) for mine in _fixing(joints).values() for n in mine]
    pairs = [*links, *((b, a) for a, b in links)]
    pairs += [(i, n) for n, mine in enumerate(needs) for need in mine for i in need.any_of]
    count = len(joints)
    if not count:
        return []
    rows, columns = zip(*pairs, strict=True) if pairs else ((), ())
    graph = coo_array(([1] * len(pairs), (rows, columns)), shape=(count, count))
    _, labels = connected_components(graph.tocsr(), directed=True, connection="strong")
    found: dict[int, list[int]] = defaultdict(list)
    for n, label in enumerate(labels.tolist()):
        found[label].append(n)
    return sorted(found.values())


def _sequence(stretch: Sequence[int], needs: Sequence[Sequence[_Need]]) -> Iterator[int]:
    """Joints of a stretch, each once what it needs is done, the first in the list leading; ends where none may come."""
    inside, done = set(stretch), set[int]()

    def may(n: int) -> bool:
        # What lies in another stretch is done before this one begins.
        return all(need.any_of & done or need.any_of - inside for need in needs[n])

    while len(done) < len(stretch):
        following = next((n for n in stretch if n not in done and may(n)), None)
        if following is None:
            return
        done.add(following)
        yield following


def _contradiction(joints: Sequence[Joint], needs: Sequence[Sequence[_Need]]) -> None:
    """`Refused` with the fewest joints that can't all be done."""
    everything = range(len(joints))
    stuck = set(everything) - set(_sequence(everything, needs))
    if not stuck:
        return
    found = _fewest(stuck, needs)
    says = []
    for n in sorted(found):
        why = next(need.says for need in needs[n] if need.any_of <= found)
        says += [why] if why not in says else []
    names = [joints[n].id for n in sorted(found)]
    who = f"{', '.join(names[:-1])} and {names[-1]} contradict each other" if len(names) > 1 else (
        f"{names[0]} contradicts itself"
    )  # fmt: skip
    raise Contradiction(f"{who}: {'; '.join(says)}", names)


def _fewest(stuck: set[int], needs: Sequence[Sequence[_Need]]) -> frozenset[int]:
    """The smallest set of joints of which each needs something that only others of the set could do."""
    reasons = {n: {need.any_of for need in needs[n] if need.any_of <= stuck} for n in stuck}
    # Smaller sets first: each is closed by what its first open joint waits for.
    heap: list[tuple[int, tuple[int, ...]]] = [(1, (n,)) for n in sorted(stuck)]
    seen: set[tuple[int, ...]] = set()
    while heap and len(seen) < _SETS:
        _, have = heapq.heappop(heap)
        if have in seen:
            continue
        seen.add(have)
        mine = frozenset(have)
        waits = next((n for n in have if not any(reason <= mine for reason in reasons[n])), None)
        if waits is None:
            return mine
        for reason in reasons[waits]:
            more = tuple(sorted(mine | reason))
            heapq.heappush(heap, (len(more), more))
    return frozenset(stuck)


def _because(
    joints: Sequence[Joint], needs: Sequence[Sequence[_Need]], order: Sequence[int], stops: frozenset[int],
    where: Mapping[int, int],
) -> Iterator[Because]:  # fmt: skip
    place = {n: at for at, n in enumerate(order)}
    fixed: set[str] = set()
    for at, n in enumerate(order):
        # Of what had to be done the last is why it could not come sooner.
        waited = [(min(place[i] for i in need.any_of), need.says) for need in needs[n]]
        if waited:
            words = max(waited)[1]
        elif at and where[order[at - 1]] == where[n]:
            half = [part for part in joints[n].fixes if part in fixed]
            words = f"{half[0]} is half fixed until it is done" if half else "it belongs to what is half fixed"
        else:
            words = "nothing must come before it"
        fixed.update(joints[n].fixes)
        end = ". After it nothing is half fixed: it is safe to stop" if n in stops else ""
        yield Because(joints[n].id, f"{words}{end}")
