"""What run sheets of several recipes share: one instruction after another, ticked with wet gloves.

The order is common practice: everything is laid ready and looked at before the first cup is
mixed; each ply is called with its angle and a second person looks; the bag is on and read
before the pot goes.
"""

from __future__ import annotations

from collections.abc import Sequence

from kiteloom.core.build.task import Item
from kiteloom.core.laminate.stack import Ply, true_angle, warp_direction
from kiteloom.core.laminate.zones import Zone
from kiteloom.core.shape.loft import Hand

READY = Item(
    "ready",
    "Everything is laid ready",
    "Cloth cut and rolled in order, cups weighed out dry, brushes, rollers, shears, peel ply, bag and its tape; "
    "the second person is here.",
)
BARE = Item(
    "bare",
    "Peel ply off now; the face is dull all over",
    "Bare, it takes up dust and damp: not earlier. What was bare for longer is washed, abraded and wiped.",
)
_SEALED = (
    Item("bag", "Bag on with pleats, tape pressed all round"),
    Item("vacuum", "Vacuum on: press leaks shut, read the gauge and write it on the bag", asks="vacuum"),
    Item(
        "leak",
        "Valve to the pump shut for five minutes: the gauge stands",
        "Not the pump off: air and oil come back through many. If it falls, find the leak before it is trusted.",
        asks="vacuum",
    ),
)
#: A layup that is bled: peel ply, a film with holes, breather.
BAG = (
    Item("peel-ply", "Peel ply on, worked down, no bridges in corners"),
    Item("film", "Release film with holes, and breather on"),
    *_SEALED,
)
#: What is only pressed down.
PRESSED = (Item("film", "Solid release film over it, breather to the port of the pump"), *_SEALED)
CLEAN = Item(
    "clean",
    "A thin coupon of each mix laid beside the part; leftover spread out and carried outside; tools cleaned",
    "The coupon, as thick as what was laid and as cold as the part, is its witness. Never a cup: it gets hot.",
)


def sprayed_or_laid(ready: str, stir: str, *, sprayed: bool) -> tuple[Item, ...]:
    """The run sheet of a coat of primer or paint, sprayed, or brushed and rolled.

    >>> [item.key for item in sprayed_or_laid("Masked", "Stirred", sprayed=True)]
    ['ready', 'mask', 'stir', 'edges', 'coat', 'light', 'gun', 'clean']
    """
    return (
        Item("ready", ready, "No finger has touched it since."),
        Item("mask", "Mask on, air moving, no flame near it"),
        Item("stir", stir),
        Item("edges", "Edges and corners first"),
        Item("coat", "Crossed passes, half over the last" if sprayed else "Thin and even, laid off one way"),
        Item("light", "Looked over against the light while it is wet"),
        Item("gun", "Gun, tray or brush cleaned"),
        CLEAN,
    )


def let_in(hard: Sequence[Zone]) -> tuple[Item, ...]:
    """What is let into the core, each called: cut out, bedded, its threads plugged.

    >>> from kiteloom.core.laminate.zones import Band
    >>> [item.key for item in let_in([Zone("hinge", Band(0, 1), insert="aluminium", threads=4)])]
    ['insert-hinge', 'plug-hinge']
    """
    found = []
    for zone in hard:
        found.append(
            Item(f"insert-{zone.name}", f"Core cut out for {zone.words}; bedded flush, no air under it",
                 "Its faces abraded and wiped; its edge filled. A second person looks at its place.", asks="look")
        )  # fmt: skip
        if zone.threads:
            found.append(
                Item(f"plug-{zone.name}", f"All {zone.threads} threads of “{zone.name}” plugged with wax or clay",
                     "Resin in a thread is drilled out with the thread.")
            )  # fmt: skip
    return tuple(found)


def _where(ply: Ply) -> str:
    return f", {ply.zone}" if ply.zone else ""


def _off_the_roll(ply: Ply, hand: Hand) -> str:
    """How the roll's length lies, where its fibres run off it."""
    off = ply.cloth.fibre_off_deg
    return f"The length of its roll lies at {true_angle(ply.angle_deg - off, hand):g}°. " if off else ""


def laid(
    plies: Sequence[Ply], first: int, hand: Hand, *, before: Sequence[Item] = (), bagged: bool = True
) -> tuple[Item, ...]:
    """A layup: ready, wetted out, each ply called with its angle, then the bag.

    Parameters
    ----------
    plies : sequence of Ply
        In laying order.
    first : int
        The number of the first of them in its whole stack.

    >>> from kiteloom.core.build import run_sheet
    >>> [item.words for item in run_sheet.laid(SANDWICH.outside, 1, "right")][2:4]
    ['Ply 1: twill at -45°', 'Ply 2: twill at 0°']
    """
    called = [
        Item(
            f"ply-{number}",
            f"Ply {number}: {ply.cloth.name} at {true_angle(ply.angle_deg, hand):g}°{_where(ply)}",
            f"{_off_the_roll(ply, hand)}Call it, lay it, roll it out; a second person looks.",
            ply.cloth.name,
            warp_direction(ply.angle_deg, hand),
            ply.cloth.balanced,
            "look",
        )
        for number, ply in enumerate(plies, first)
    ]
    first_cup = Item("wet", "First cup mixed; the surface wetted out evenly")
    last = BAG if bagged else (Item("peel-ply", "Peel ply on, worked down"), Item("edges", "Edges cut while wet"))
    return (READY, *before, first_cup, *called, *last, CLEAN)
