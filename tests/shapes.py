"""Shapes as a page sends them: what was read, with some texts typed otherwise."""

from __future__ import annotations

from copy import deepcopy


def retyped(view, sections=None, **texts):
    """A shape view as it is saved: ``at_2="8 m"`` retypes the second station's place, ``sections`` by station."""
    shape = deepcopy(view["typed"])
    for name, text in texts.items():
        field, _, row = name.rpartition("_")
        shape["stations"][int(row) - 1][field] = text
    for row, section in (sections or {}).items():
        shape["stations"][row - 1]["section"] = section
    return {"version": view["version"], "reason": "as built", "shape": shape}
