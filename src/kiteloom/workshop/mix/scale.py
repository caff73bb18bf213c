"""The scale on the bench: what it reads, in words a builder can act on."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from typing import Any, Protocol

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.mix.cups import LARGEST_CUP_G, SCALE_STEP_G
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import the_shop


class Scale(Protocol):
    """A scale: by a serial line, or simulated. Both raise `OSError` when it does not answer."""

    step_g: float

    def read(self) -> tuple[float, bool]:
        """What it shows [g], and whether it stands still."""

    def tare(self) -> None:
        """Zero, with what stands on it."""


def scale_step_g(uow: UnitOfWork, scale: Scale | None) -> float:
    """What the scale on the bench counts in [g]: its own word, else the shop's, else a kitchen scale's."""
    if scale is not None:
        return scale.step_g
    said = the_shop(uow).bench.get("scale_step_g")
    return SCALE_STEP_G if said is None else float(said)


def largest_cup_here_g(uow: UnitOfWork) -> float:
    """No cup of this shop is larger [g]."""
    said = the_shop(uow).bench.get("largest_cup_g")
    return LARGEST_CUP_G if said is None else float(said)


@dataclass(frozen=True)
class UseScale:
    """Zero it; or, where it is simulated, pour on it, put something on it, pull its plug."""

    tare: bool = False
    pour_g_s: float | None = None
    put_g: float | None = None
    plugged: bool | None = None


def use_it(scale: Scale | None, order: UseScale) -> None:
    """Zero a scale; or, of a simulated one, pour on it, put something on it, pull its plug.

    Raises
    ------
    Refused
        If there is none, or a real one is asked for what only a simulated one can do.
    """
    if scale is None:
        raise Refused("scale", "this shop has no scale that can be read; type what it shows")
    asked = {"pour_g_s": order.pour_g_s, "put_g": order.put_g, "plugged": order.plugged}
    wanted = {key: value for key, value in asked.items() if value is not None}
    if wanted and not hasattr(scale, "pour"):
        raise Refused(next(iter(wanted)), "this scale is a real one: pour into the cup that stands on it")
    # What only a simulated scale has is reached without naming its type here.
    simulated: Any = scale
    if "plugged" in wanted:
        simulated.plugged = wanted["plugged"]
    if "pour_g_s" in wanted:
        simulated.pour(between("pour_g_s", wanted["pour_g_s"], 0, 200, unit="g/s", name="what runs into the cup"))
    if "put_g" in wanted:
        simulated.put_on(between("put_g", wanted["put_g"], -20_000, 20_000, unit="g"))
    if order.tare:
        # A scale that does not answer says so in its next reading.
        with suppress(OSError):
            scale.tare()
