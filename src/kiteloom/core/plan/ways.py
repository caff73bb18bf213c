"""What would let a step go that the air holds up: its room heated, its place set up elsewhere, its part moved."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from kiteloom.core.air.profile import Profile
from kiteloom.core.build.step import Step
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.place import place
from kiteloom.core.plan.plan import Plan

#: So far above a sheet's least a room is heated: a heater swings, and a mould at the wall is colder [K].
SPARE_K = 3.0

#: The shop's own air among the zones.
SHOP = ""


@dataclass(frozen=True)
class Way:
    """One thing to change, and the plan it makes.

    ``zone`` is the room that is heated to ``celsius``, or where the ``station`` or the part goes.
    """

    kind: Literal["heat", "station", "part"]
    zone: str
    plan: Plan
    station: str = ""
    celsius: float | None = None


def ways_to_go(
    job: PlanInput,
    key: str,
    rooms: Mapping[str, Profile],
    too_small: Collection[str] = frozenset(),
    held: Mapping[str, float] | None = None,
) -> list[Way]:
    """What would let a step go, the one that ends soonest first.

    Parameters
    ----------
    key : str
        Of a step that cures, and can't be placed or never gets ready as things are.
    rooms : mapping
        The temperature of every room it could be in, the shop's by `SHOP`.
    too_small : collection of str
        Those its part does not go into.
    held : mapping or None
        What their heaters hold in their hours [°C]: round the clock no room is held colder than that.

    Returns
    -------
    list of Way
        Only those with which it is placed and gets ready; none where it goes already.

    >>> cold = replace(small, profile=Profile.steady(6), steps=(replace(small.steps[1], after=(), min_c=12.0),))
    >>> [(way.kind, way.zone, way.celsius) for way in ways_to_go(cold, "layup", {"": cold.profile})]
    [('heat', '', 15.0)]
    """
    step = next((step for step in job.steps if step.key == key), None)
    if step is None or step.cure is None or step.min_c is None or step.refused:
        return []
    stations = [station for station in job.stations if station.id in step.stations and station.zone]
    here = stations[0].zone if stations else SHOP
    celsius = max(float(math.ceil(step.min_c + SPARE_K)), (held or {}).get(here, -math.inf))
    found = [Way("heat", here, place(_heated(job, step, here, celsius)), celsius=celsius)]
    for zone, air in rooms.items():
        if zone == here or zone in too_small:
            continue
        zones = {**job.zones, **({zone: air} if zone != SHOP else {})}
        if stations:
            moved = tuple(replace(s, zone=zone) if s in stations else s for s in job.stations)
            plan = place(replace(job, zones=zones, stations=moved))
            found.append(Way("station", zone, plan, station=stations[0].id))
        elif step.part:
            found.append(Way("part", zone, place(replace(job, own={**job.own, step.part: air}))))

    def goes(way: Way) -> bool:
        placed = way.plan.by_key.get(key)
        return placed is not None and placed.ready is not None

    return sorted(filter(goes, found), key=lambda way: (len(way.plan.unplaced), way.plan.finish or 0.0))


def _heated(job: PlanInput, step: Step, zone: str, celsius: float) -> PlanInput:
    """The same with the air a step has held at a temperature from now on."""
    if zone != SHOP:
        return replace(job, zones={**job.zones, zone: _held(job.zones[zone], celsius, job.start)})
    own = {part: _held(air, celsius, job.start) if part == step.part else air for part, air in job.own.items()}
    return replace(job, profile=_held(job.profile, celsius, job.start), own=own)


def _held(air: Profile, celsius: float, start: float) -> Profile:
    """An air that is no colder than a temperature from a time on."""
    minutes = np.union1d(air.minutes, [start - 1e-3, start])
    known = np.interp(minutes, air.minutes, air.celsius)
    return Profile(minutes, np.where(minutes >= start, np.maximum(known, celsius), known))
