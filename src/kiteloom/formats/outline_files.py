"""Outlines from a drawing's text, whatever its format."""

from __future__ import annotations

from typing import Any, Literal

from kiteloom.core.shape.outline import loops_of
from kiteloom.formats.dxf import read_dxf
from kiteloom.formats.svg import read_svg


def loops_in(kind: Literal["dxf", "svg"], text: str, unit: str | None) -> tuple[list[Any], str, list[str]]:
    """Closed loops [mm], the unit they were drawn in, and what was assumed; `Refused` says where it does not close."""
    lines, used, assumed = (read_dxf if kind == "dxf" else read_svg)(text, unit)
    loops, more = loops_of(lines)
    return loops, used, [*assumed, *more]
