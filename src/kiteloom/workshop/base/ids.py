"""Ids of what is made with another row: the same each time, so that a retry adds nothing."""

from __future__ import annotations

from uuid import NAMESPACE_URL, uuid5


def stable_id(*names: str) -> str:
    """An id that is the same each time for the same names."""
    return str(uuid5(NAMESPACE_URL, "kiteloom:" + "/".join(names)))
