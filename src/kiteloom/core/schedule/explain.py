"""Why not sooner: what held a placed step, in one sentence."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from kiteloom.core.quantities import UnitSystem, show
from kiteloom.core.schedule.place import Placed


def why_not_sooner(
    placed: Placed,
    by_key: Mapping[str, Placed],
    names: Mapping[str, str],
    at: Callable[[float], str],
    units: UnitSystem = "metric",
) -> str:
    """What held a step.

    Parameters
    ----------
    by_key : mapping
        The plan's placed steps.
    names : mapping
        What people, stations and parts are called, by id.
    at : callable
        A time in words.
    """

    def called(key: str) -> str:
        other = by_key.get(key)
        if other is None:
            return f"“{key}”"
        of = names.get(other.step.part, "") if other.step.part != placed.step.part else ""
        return f"“{other.step.name}”" + (f" ({of})" if of else "")

    because, start = placed.because, at(placed.begins)
    name = names.get(because.of, because.of)
    if because.kind == "done":
        return "It is written down as done."
    if because.kind == "running":
        return "It is being worked on."
    if because.kind == "start":
        return "It can start at once: nothing holds it."
    if because.kind == "hours":
        return f"Not sooner: the shop is closed before {start}, or too little of the day was left for it."
    if because.kind == "delivery":
        return f"Not sooner: what it needs is there from {at(placed.step.not_before or placed.start)}."
    if because.kind == "climate":
        least = show(placed.step.min_c or 0.0, "temperature", units)
        return f"Not sooner: before {start} the air would fall below {least} while it waits."
    if because.kind == "crew":
        return f"Not sooner: {name} is on {called(because.by)} until {start}."
    if because.kind == "station":
        return f"Not sooner: {name} is taken by {called(because.by)} until {start}."
    if because.kind == "cure":
        return f"Not sooner: {called(because.of)} must first cure; check it from {start}."
    return f"Not sooner: it follows {called(because.of)}."
