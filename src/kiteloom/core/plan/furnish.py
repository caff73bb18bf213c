"""Which station a step goes to: steps ask for kinds, and a station says what it serves as."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from kiteloom.core.plan.input import Station


def furnished(stations: Sequence[Station]) -> tuple[tuple[Station, ...], dict[str, str]]:
    """The stations as the plan takes them, and the one each kind is asked of, by kind.

    Those that serve as the same in the same air stand for each other: they are one place that
    serves as many as they do together. Of several that differ, a kind is asked of the one that
    serves as the least else, and then of the larger.

    Examples
    --------
    >>> one, two = Station("a", 1, serves=("bench",)), Station("b", 2, serves=("bench",))
    >>> found, asked = furnished([one, two])
    >>> [(station.id, station.capacity) for station in found], asked
    ([('a', 3)], {'bench': 'a'})
    """
    alike: dict[tuple[frozenset[str], str], list[Station]] = {}
    for station in stations:
        alike.setdefault((frozenset(station.serves), station.zone), []).append(station)
    found = []
    for group in alike.values():
        if group[0].serves:
            names = " or ".join(station.name or station.id for station in group)
            found.append(replace(group[0], capacity=sum(station.capacity for station in group), name=names))
        else:
            found += group  # they serve as nothing that is asked for
    asked: dict[str, str] = {}
    for station in sorted(found, key=lambda s: (len(s.serves), -s.capacity, s.name)):
        for kind in station.serves:
            asked.setdefault(kind, station.id)
    return tuple(found), asked
