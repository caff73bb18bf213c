"""Why a step can't go, in a sentence that says what would change it."""

from __future__ import annotations

from collections.abc import Callable

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.step import Step
from kiteloom.core.plan.hands import in_words, team_of
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.placed import Because
from kiteloom.core.plan.use import Hours


def impossible(step: Step, job: PlanInput, called: Callable[[str], str]) -> str | None:
    """Why a step can't go at any time; None where nothing of it says so. ``called`` names stations.

    >>> impossible(Step("lift", "Lift it", 30, people=9), small, str)
    'it takes 9 people and there is 1; welcome somebody to the crew'
    """
    if step.refused:
        return step.refused
    crew = job.crew
    if step.people > len(crew):
        are = "there is 1" if len(crew) == 1 else f"there are {len(crew)}"
        return f"it takes {in_words(step.people)} and {are}; welcome somebody to the crew"
    for skill in step.skills:
        if not any(skill in member.skills for member in crew):
            return f"nobody has the skill “{skill}”; give it to somebody of the crew"
    if step.skills and team_of(step, list(crew)) is None:
        skills = " and ".join(f"“{skill}”" for skill in step.skills)
        return f"{in_words(step.people)} can't have {skills} together; give it more people, or somebody all of it"
    for station in job.stations if step.stations else ():
        if station.id in step.stations and station.capacity < 1:
            return f"the station “{called(station.id)}” has a capacity of 0; let it serve one at least"
    return None


def never_fit(step: Step, air: Profile, limit: str, units: UnitSystem) -> str:
    """That an air never is as one of a step's limits wants it for as long as it must: cold, hot, damp or dew.

    >>> bond = Step("bond", "Bond it", 30, min_c=12.0, limits_until="end")
    >>> never_fit(bond, Profile.steady(9), "cold", "metric")
    'it needs 12.0 °C until its work is over, and the air stays 3.0 °C short; heat it'
    """
    until = {"end": "its work is over", "wait": "its wait is over"}.get(step.limits_until, f"“{step.limits_until}”")
    last = float(air.celsius[-1])
    if limit == "hot" and step.max_c is not None:
        most = show(step.max_c, "temperature", units)
        return f"it needs at most {most} until {until}, and the air never stays so cool for so long; cool it"
    if limit != "cold" or step.min_c is None:
        return f"it needs drier air until {until}, and it stays too damp; dry the shop, or warm it"
    least = show(step.min_c, "temperature", units)
    if step.min_c > last:
        short = show(step.min_c - last, "difference", units)
        return f"it needs {least} until {until}, and the air stays {short} short; heat it"
    return f"it needs {least} until {until}, and the air never stays so warm for so long; heat it"


def no_room(step: Step, needed: float, hours: Hours, shop: Hours, because: Because, called: str) -> str:
    """That so many minutes find no room in the hours of those who could do it, inside the shop's.

    ``because`` is what was in the way last, and what it is called.

    >>> day = Hours.of([(540, 720)])
    >>> no_room(Step("lay", "Lay it", 240), 240, day, day, Because("crew"), "")
    'it takes 240 min in one go and the longest stretch of working hours is 180 min; work longer that day, or split it'
    """
    if not shop.open:
        return "the shop has no working hours; set them first"
    if not hours.open:
        return "those who could do it are never there together; change somebody's hours"
    if not step.may_pause and needed > hours.longest:
        return (
            f"it takes {needed:g} min in one go and the longest stretch of working hours is "
            f"{hours.longest:g} min; work longer that day, or split it"
        )
    held = {
        "climate": "the air is too cold or too damp",
        "crew": "there are too few people",
        "station": f"“{called}” is full",
    }
    return f"no room is found for it within two years: {held.get(because.kind, 'the hours are too few')}"
