"""Why not sooner: what held a placed step, in one sentence."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.plan.placed import Because, Placed


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

    >>> why_not_sooner(plan.by_key["peel"], plan.by_key, {}, lambda minute: "then")
    'Not sooner: the shop is closed before then.'
    """

    def called(key: str) -> str:
        other = by_key.get(key)
        if other is None:
            return f"“{key}”"
        of = names.get(other.step.part, "") if other.step.part != placed.step.part else ""
        return f"“{other.step.name}”" + (f" ({of})" if of else "")

    because, start = placed.because, at(placed.begins)
    if because.kind == "done":
        return "It is written down as done."
    if because.kind == "running":
        return "It is being worked on."
    if because.kind == "start":
        return "It can start at once: nothing holds it."
    if because.kind == "overnight":
        if placed.ready is not None and placed.ready > placed.end:
            late = (
                "It is put late on purpose: its wait runs overnight, and nothing that follows would be sooner for it."
            )
            before = [cause for cause in placed.causes if cause.kind not in ("overnight", "start")]
            if placed.earliest is None or not before:
                return late
            could = replace(placed, start=placed.earliest, pieces=(), tell=lambda _: tuple(before))
            held = why_not_sooner(could, by_key, names, at, units).removeprefix("Not sooner: ")
            return f"{late} It could begin {at(placed.earliest)} and not before: {held}"
        return "It is put late on purpose: until then more can be done as it lies."

    def of(because: Because) -> str:
        name = names.get(because.of, because.of)
        if because.kind == "hours":
            if because.by == "short":
                return f"too little of the hours before was left for it; the shop opens again {start}"
            return f"the shop is closed before {start}"
        if because.kind == "delivery":
            what = f"“{placed.step.awaits}”" if placed.step.awaits else "what it needs"
            return f"{what} is there from {at(placed.step.not_before or placed.start)}"
        if because.kind == "stands":
            return "it keeps its place in the plan, until another order ends clearly sooner"
        if because.kind == "pin":
            if placed.kept is not None:
                return f"it is kept as in the accepted plan, {at(placed.kept)}"
            return f"it is pinned to {at(placed.pinned or placed.start)}"
        if because.kind == "climate":
            return _air(because.by, placed, start, units)
        if because.kind == "crew":
            if not because.by:
                return f"{name} is not here before {start}"
            busy = [names.get(c.of, c.of) for c in placed.causes if c.kind == "crew" and c.by == because.by]
            are = "are" if len(busy) > 1 else "is"
            return f"{' and '.join(busy)} {are} on {called(because.by)} until {lets_go(because)}"
        if because.kind == "station":
            return f"{name} is taken by {called(because.by)} until {lets_go(because)}"
        if because.kind == "setup":
            other = by_key.get(because.by)
            if other is not None and other.step.kind == "turn":
                return f"{name} is turned before it: {called(because.by)}, {at(other.end)}"
            return f"{name} can't be turned before {called(because.by)} lets it go"
        if because.kind == "window":
            other = by_key.get(because.of)
            when = f", and it can't before {at(other.start)}" if other else ""
            return f"{called(because.of)} must follow in time{when}"
        if because.kind == "cure":
            stands = because.of in by_key and by_key[because.of].step.cure is None
            wait = "must stand until" if stands else "must first cure; check it from"
            return f"{called(because.of)} {wait} {cured(because.of)}"
        return f"it follows {called(because.of)}"

    def cured(key: str) -> str:
        # To the minute where it is its own wait that is waited for; work begins on the next five.
        other = by_key.get(key)
        waits = any(link.step == key and link.until == "wait" for link in placed.step.after)
        return at(other.ready) if waits and other is not None and other.ready is not None else start

    def lets_go(because: Because) -> str:
        other = by_key.get(because.by)
        if other is None:
            return start
        held = other.step.holds and because.kind == "station"
        return at(min((other.ready or other.end) if held else other.end, placed.begins))

    together = ", and ".join(dict.fromkeys(of(cause) for cause in placed.causes))
    wanted = ""
    if placed.pinned is not None and placed.start > placed.pinned and because.kind != "pin":
        wanted = f"It was pinned to {at(placed.pinned)}. "
    if placed.kept is not None and placed.start > placed.kept and because.kind != "pin":
        wanted = f"It was to be kept as accepted, {at(placed.kept)}. "
    return f"{wanted}Not sooner: {together}."


def _air(limit: str, placed: Placed, start: str, units: UnitSystem) -> str:
    until = "while it is worked on" if placed.step.limits_until == "end" else "while it waits"
    if limit == "damp":
        return f"before {start} the air would be damper than {placed.step.max_rh_pct:.0f} % {until}"
    if limit == "dew":
        least = show(placed.step.margin_k or 0.0, "difference", units)
        return f"before {start} it would come within {least} of the dew point {until}"
    if limit == "hot":
        most = show(placed.step.max_c or 0.0, "temperature", units)
        return f"before {start} the air would be warmer than {most} {until}"
    least = show(placed.step.min_c or 0.0, "temperature", units)
    return f"before {start} the air would fall below {least} {until}"
