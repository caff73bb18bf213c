"""The Loom's small answer read back into steps: their stretches as moments, and what is told of one when picked."""

from __future__ import annotations

from datetime import datetime, timedelta
from urllib.parse import quote


def blocks(shop, query="days=60"):
    """The blocks of a stretch by id, each with its times as the shop writes them."""
    view = shop.get(f"/loom?{query}")
    zero = datetime.fromisoformat(view["zero"])

    def moment(minute):
        return (zero + timedelta(minutes=minute)).isoformat()

    found = {}
    for block in (b for lane in view["lanes"] for b in lane["blocks"]):
        part, step = view["parts"][block["part"]], view["steps"][block["step"]]
        pieces = [{"start": moment(start), "end": moment(end)} for start, end in block["pieces"]]
        ends = moment(block["wait"][-1]) if block["wait"] else None
        flags = {flag: flag in block["flags"] for flag in ("closes", "pinned", "fixed")}
        id = f"{part}:{step['key']}"
        found[id] = {**block, "id": id, "key": step["key"], "pieces": pieces, "wait_ends": ends, **flags}
    return found


def picked(shop, id):
    """What is told of a step when it is picked."""
    part, _, key = id.partition(":")
    return shop.get(f"/loom/step?part_id={quote(part)}&step_key={quote(key)}")
