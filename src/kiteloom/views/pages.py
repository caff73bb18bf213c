"""What each page's question is made from: what must be asked again when something changes.

The names are those the pages give their questions. What is not named here is asked again by whoever shows it.
"""

from __future__ import annotations

from collections.abc import Iterable

#: What the plan is made from: whatever shows a time or a state is made from it.
PLANNED = frozenset(
    (
        "airframe",
        "batch",
        "climate",
        "crew",
        "design",
        "gate",
        "item",
        "lot",
        "order",
        "part",
        "plan",
        "shape",
        "sheet",
        "shop",
        "witness",
        "work",
        "zone",
    )
)
#: What a part is built from.
BUILT = frozenset(("airframe", "design", "part", "shape", "sheet", "shop"))
#: What stands on the shelf, and is poured from it.
STORED = frozenset(("batch", "lot", "sheet", "shop"))

MADE_FROM = {
    "today": PLANNED | {"copy", "cut", "lot"},
    "held": PLANNED,
    "loom": PLANNED,
    "loom-supposed": PLANNED | {"search"},
    "accepted": frozenset(("plan", "shop")),
    "loom-step": PLANNED,
    "better-order": PLANNED | {"search"},
    "what-if": PLANNED | {"search"},
    "what-helps": PLANNED | {"search"},
    "how-sure": PLANNED | {"search"},
    "cures": PLANNED,
    "airframe": PLANNED,
    "airframe-takes": PLANNED,
    "joints": PLANNED,
    "joint": PLANNED,
    "checks": BUILT | {"crew"},
    "gates": PLANNED | {"gate"},
    "gate": PLANNED | {"gate"},
    "irons": frozenset(("iron", "sheet", "shop")),
    "taps": BUILT | {"crew"},
    "tank": BUILT,
    "cloth": BUILT,
    "cut-list": BUILT,
    "coats": PLANNED,
    "part": PLANNED | {"weight"},
    "deviations": PLANNED,
    "times": PLANNED,
    "ways": PLANNED,
    "weather": PLANNED | {"alert"},
    "run-sheet": PLANNED | {"cut", "iron", "log", "lot", "tick"},
    "people": BUILT | {"crew", "plan", "work", "zone"},
    "sign-in": frozenset(("crew", "shop")),
    "zones": frozenset(("climate", "shop", "zone")),
    "deliveries": BUILT | {"plan"},
    "shape": BUILT,
    "shape-look": frozenset(("shop",)),
    "job-look": BUILT,
    "plies": BUILT | {"cut"},
    "pieces": BUILT | {"cut"},
    "built-from": BUILT,
    "job": BUILT | {"crew", "work", "batch"},
    "mix": BUILT | STORED | {"crew", "witness", "work"},
    "bench": STORED | {"crew"},
    "shelf": BUILT | STORED | {"climate", "cut", "zone", "work"},
    "sheet": BUILT | STORED | {"cut", "work", "zone"},
    "check-sheet": frozenset(("shop",)),
    "lot": BUILT | STORED | {"crew", "cut", "work", "zone"},
    "batch": PLANNED | STORED,
    "uses": PLANNED | STORED,
    "limits": PLANNED,
    "cup": frozenset(("sheet", "shop")),
    "cups": frozenset(("climate", "sheet", "shop", "zone")),
    "pour": frozenset(("climate", "sheet", "shop", "zone")),
    "filled": frozenset(("sheet", "shop")),
    "weight": BUILT | {"weight", "work"},
    "airframe-weights": BUILT | {"weight", "work"},
    "needs": PLANNED,
    "order-list": PLANNED,
    "orders": PLANNED,
    "items": PLANNED,
    "costs": PLANNED,
    "cut-plans": BUILT | {"cut"},
    "cut-plan": BUILT | {"cut"},
    "note-form": frozenset(("airframe", "crew", "part")),
    "logbook": PLANNED | {"iron", "log", "weight"},
    "shop": frozenset(("copy", "plan", "shop")),
}


def touched(topics: Iterable[str]) -> list[str]:
    """The questions to ask again after changes of these topics, in the order of the table.

    >>> touched(["alert"]), touched(["tick"])
    (['weather'], ['run-sheet'])
    """
    changed = set(topics)
    return [name for name, made_from in MADE_FROM.items() if made_from & changed]
