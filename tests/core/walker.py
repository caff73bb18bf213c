"""Walks a plan and names every rule it breaks, knowing nothing of how it was placed."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

from kiteloom.core.cure.progress import follow

SLACK = 1e-6


def air_of(job, step, done=False):
    """A station's zone has its own temperature, and so has a part that was moved or read."""
    zone = next((s.zone for s in job.stations if s.zone and s.id in step.stations), None)
    own = job.own.get(step.part)
    if zone and not (done and own):
        return job.zones[zone]
    return own or job.profile


def followed(job, step, cure, at):
    """A cure in its air, and in its humidity where it heeds that."""
    zone = next((s.zone for s in job.stations if s.zone and s.id in step.stations), None)
    damp = job.damp.get(zone or (step.part if step.part in job.own else ""))
    return follow(cure, at, air_of(job, step), humidity=damp and damp.humidity)


def there(member, start, end):
    """Whether somebody is in the shop from one time to another."""
    if any(a < end and start < b for a, b in member.away):
        return False
    spans = member.hours.intervals(start - 1440, end + 1440) if member.hours else [(start, end)]
    return any(a <= start and end <= b for a, b in spans)


def deadline(job, before, link):
    """The last moment what follows so may begin."""
    limits = [math.inf]
    if link.within_min is not None:
        event = before.end if link.until == "end" else before.ready
        if link.until not in ("end", "wait"):
            had = followed(job, before.step, before.cure, before.mixed)
            event = before.mixed + had.reaches(before.cure.hours(link.until))
        limits.append(event + link.within_min)
    if link.closes:
        system, mixed = before.step.life if link.same_mix else before.cure, before.mixed or before.end
        reached = followed(job, before.step, system, mixed).reaches(system.hours(link.closes))
        limits.append(math.inf if reached is None else mixed + reached - link.uses_min)
    return min(limits)


def turned_wrong(job, placed):
    """Steps whose thing does not lie as they need it, and things turned under somebody's hands."""
    found = []
    for thing in job.things:
        turn = f"{thing.part or thing.id}:turn/"
        turns = sorted((p.start, p.end, p.step.key) for p in placed if p.step.key.startswith(turn))
        users = [p for p in placed if p.step.way and p.step.thing == thing.id]
        for p in users:
            over = p.ready if p.ready is not None else math.inf
            if any(start < over and p.start < end for start, end, _ in turns):
                found.append(f"{thing.id} is turned during {p.step.key}")
            before = [key for _, end, key in turns if end <= p.start]
            first = thing.way or min(users, key=lambda u: u.start).step.way
            way = before[-1].rsplit("/", 1)[1] if before else first
            if way != p.step.way:
                found.append(f"{p.step.key} wants {thing.id} {p.step.way}, and it lies {way}")
    return found


def ready_of(job, step, cure, begins):
    """When a wait is over, from the cure itself."""
    if step.wait_stage is None:
        return begins + step.wait_min
    reached = followed(job, step, cure, begins).reaches(cure.hours(step.wait_stage))
    return None if reached is None else begins + reached


def broken(job, placed):
    """Every rule that these placed steps break, in words."""
    found = []
    by_key = {p.step.key: p for p in placed}
    new = [p for p in placed if p.state == "to do"]
    last = max((p.end for p in placed), default=job.start)
    open_hours = job.hours.intervals(job.start, last + 1440)
    for p in new:
        step, key = p.step, p.step.key
        if p.start % 5 or p.start < job.start:
            found.append(f"{key} starts off the grid or before the start")
        if abs(sum(b - a for a, b in p.pieces) - math.ceil(step.minutes / 5) * 5) > SLACK:
            found.append(f"{key} has the wrong length")
        for a, b in p.pieces:
            if not any(opens <= a and b <= closes for opens, closes in open_hours):
                found.append(f"{key} works while closed")
        if len(p.pieces) > 1:
            if not step.may_pause:
                found.append(f"{key} is split")
            for (_, b), (a, _) in pairwise(p.pieces):
                closes = min(c for o, c in open_hours if c >= b)
                opens = min(math.ceil(o / 5) * 5 for o, _ in open_hours if o >= closes - SLACK)
                stays = all(there(m, b, b + 5) and there(m, a - 5, a) for m in job.crew)
                # Whoever is on it may not be there on the days between, however long that is.
                comes = all(there(m, opens, opens + 5) for m in job.crew if m.id in p.people)
                if (b, a) != (closes, opens) and stays and comes:
                    found.append(f"{key} pauses where there is no break")
        ready = ready_of(job, step, step.cure, p.end)
        if (ready is None) != (p.ready is None) or (ready is not None and abs(ready - p.ready) > 1 / 60):
            found.append(f"{key} is not ready when its cure is")
        if len(set(p.people)) != step.people or not set(p.people) <= {m.id for m in job.crew}:
            found.append(f"{key} has the wrong people")
        if any(not there(m, *piece) for m in job.crew if m.id in p.people for piece in p.pieces):
            found.append(f"{key} has somebody who is not there")
        held = {skill for m in job.crew if m.id in p.people for skill in m.skills}
        if not set(step.skills) <= held:
            found.append(f"{key} lacks a skill")
        if step.not_before is not None and p.start < step.not_before:
            found.append(f"{key} starts before its delivery")
        for link in step.after:
            before = by_key.get(link.step)
            if before is None:
                found.append(f"{key} follows what is not placed")
                continue
            if link.until == "end":
                event = before.end
            elif link.until == "wait":
                event = before.ready
            else:
                had = followed(job, before.step, before.step.cure, before.mixed)
                event = before.mixed + had.reaches(before.step.cure.hours(link.until))
            if event is None or p.start < event - SLACK:
                found.append(f"{key} starts before {link.until} of {link.step}")
            if p.start > deadline(job, before, link) + SLACK:
                found.append(f"{key} starts too late after {link.step}")
        until = p.end if step.limits_until == "end" else p.ready
        if step.limits_until not in ("end", "wait"):
            reached = followed(job, step, step.cure, p.end).reaches(step.cure.hours(step.limits_until))
            until = None if reached is None else p.end + reached
        until = until if until is not None else p.end + 60 * 1440
        damp = job.damp.get("") if air_of(job, step) is job.profile else None
        if (
            damp
            and step.max_rh_pct
            and max(r for _, r in damp.humidity.between(p.start, until)) > step.max_rh_pct + 1e-9
        ):
            found.append(f"{key} gets too damp")
        if damp and step.margin_k and min(k for _, k in damp.margin.between(p.start, until)) < step.margin_k - 1e-9:
            found.append(f"{key} gets too near its dew point")
        if step.min_c is not None and min(c for _, c in air_of(job, step).between(p.start, until)) < step.min_c - 1e-9:
            found.append(f"{key} gets too cold")
        if step.max_c is not None and max(c for _, c in air_of(job, step).between(p.start, until)) > step.max_c + 1e-9:
            found.append(f"{key} gets too hot")
    found += turned_wrong(job, placed)
    for member in job.crew:
        pieces = sorted(piece for p in placed if member.id in p.people for piece in p.pieces)
        if any(b > c for (_, b), (c, _) in pairwise(pieces)):
            found.append(f"{member.id} is in two places")
    for station in job.stations:
        changes = []
        for p in placed:
            if station.id in p.step.stations:
                changes += [(p.start, 1), ((p.ready or math.inf) if p.step.holds else p.end, -1)]
        load = 0
        for _, change in sorted(changes):
            load += change
            if load > station.capacity:
                found.append(f"{station.id} is over-full")
                break
    return found


def moved(job, p, start):
    """The same unbroken step begun at another time."""
    end = start + p.end - p.start
    ready = ready_of(job, p.step, p.step.cure, end)
    mixed = end if p.mixed is not None else None
    return replace(p, start=start, end=end, ready=ready, pieces=((start, end),), mixed=mixed)


def could_be_sooner(job, plan):
    """A step that could begin earlier with all others where they are, by whoever is free then; None if none."""
    others = {p.step.key: p for p in plan.placed}
    for p in plan.placed:
        if p.state != "to do" or len(p.pieces) > 1 or p.step.may_pause:
            continue
        opens = [math.ceil(o / 5) * 5 for o, _ in job.hours.intervals(job.start, p.start)]
        wanted = {p.start - 5, *(o for o in opens if o < p.start)}
        wanted |= {math.ceil(q.end / 5) * 5 for q in plan.placed if job.start <= q.end < p.start}
        for start in sorted(t for t in wanted if job.start <= t < p.start):
            sooner = moved(job, p, start)
            free = [
                m
                for m in job.crew
                if there(m, start, sooner.end)
                and not any(
                    m.id in q.people and a < sooner.end and sooner.start < b
                    for q in plan.placed
                    if q is not p
                    for a, b in q.pieces
                )
            ]
            able = sorted(free, key=lambda m: -len(set(m.skills) & set(p.step.skills)))[: p.step.people]
            sooner = replace(sooner, people=tuple(m.id for m in able))
            if not broken(job, [sooner if q is p else q for q in others.values()]):
                return f"{p.step.key} could begin {(p.start - start):g} min sooner"
    return None
