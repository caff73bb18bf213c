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
