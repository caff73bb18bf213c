"""What an order answers: that it was kept."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Saved:
    """A save that went through, and what was done to understand it ("" when nothing)."""

    version: int
    note: str = ""


@dataclass(frozen=True)
class Kept:
    """That it was kept."""

    id: str


@dataclass(frozen=True)
class Counted:
    """How many were new."""

    kept: int


@dataclass(frozen=True)
class OnlyId:
    """An order that says no more than the id of the row it makes; the client makes it, so a retry adds nothing."""

    id: str


@dataclass(frozen=True)
class OnlyVersion:
    """An order that says no more than the version a page had read."""

    version: int
