"""What all who ask in one minute between two changes are told alike."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection
from typing import TypeVar

from kiteloom.store.unit_of_work import UnitOfWork

T = TypeVar("T")

#: Nothing that is remembered is made from these.
BESIDE = ("cut", "iron", "log", "search", "tick", "weight")


def is_shown(uow: UnitOfWork, now: float, name: str) -> bool:
    """Whether somebody asked for something in this minute, since the last change."""
    return uow.memory.at((uow.last_change(BESIDE), math.floor(now)), name) is not None


def remembered(uow: UnitOfWork, now: float, name: str, make: Callable[[], T], but: Collection[str] = BESIDE) -> T:
    """Something that is the same for all who ask in one minute between two changes: made once for them.

    It is made anew after a change of any topic, ``but`` of some. Never inside a write, where everybody else who writes
    would wait for it.
    """
    assert not uow.writes, f"{name} is made inside a write"
    return uow.memory.made((uow.last_change(but), math.floor(now)), name, make)
