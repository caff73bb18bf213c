"""The run sheet of a step with wet gloves: one instruction after another, to be ticked.

The order is common practice: everything is laid ready and looked at before the first cup is
mixed; each ply is called with its angle and a second person looks; the bag is on and read
before the pot goes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from kiteloom.core.build.recipes import fill_fair, foam_core, paste_bond, spar_cap, varnish, wood_frame
from kiteloom.core.build.step import Step
from kiteloom.core.laminate.stack import Ply, Stack, true_angle, warp_direction
from kiteloom.core.shape.loft import Hand


@dataclass(frozen=True)
class Item:
    """One instruction. ``key`` stays the same; a ply carries its cloth and where its warp runs (side, aft)."""

    key: str
    words: str
    detail: str = ""
    cloth: str = ""
    warp: tuple[float, float] | None = None
    woven: bool = False


_READY = Item(
    "ready",
    "Everything is laid ready",
    "Cloth cut and rolled in order, cups weighed out dry, brushes, rollers, shears, peel ply, bag and its tape; "
    "the second person is here.",
)


_BAG = (
    Item("peel-ply", "Peel ply on, worked down, no bridges in corners"),
    Item("film", "Release film and breather on"),
    Item("bag", "Bag on with pleats, tape pressed all round"),
    Item("vacuum", "Vacuum on: press leaks shut, read the gauge and write it on the bag"),
    Item("leak", "Pump off for five minutes: the gauge stands", "If it falls, find the leak before it is trusted."),
)


_CLEAN = Item("clean", "Tools cleaned, leftover spread out, witness cup kept beside the part")


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
    """
    called = [
        Item(
            f"ply-{number}",
            f"Ply {number}: {ply.cloth.name} at {true_angle(ply.angle_deg, hand):g}°",
            "Call it, lay it, roll it out; a second person looks.",
            ply.cloth.name,
            warp_direction(ply.angle_deg, hand),
            ply.cloth.balanced,
        )
        for number, ply in enumerate(plies, first)
    ]
    wet = Item("wet", "First cup mixed; the surface wetted out evenly")
    last = _BAG if bagged else (Item("peel-ply", "Peel ply on, worked down"), Item("edges", "Edges cut while wet"))
    return (_READY, *before, wet, *called, *last, _CLEAN)


def bedded(core: str) -> tuple[Item, ...]:
    """A core bedded on a skin."""
    return (
        _READY,
        Item("face", "Core scored, its face slurried until it drinks no more", core),
        Item("wet", "Second coat on the skin, even and wet"),
        Item("down", "Core down, joints closed, hard points where they are marked"),
        *_BAG,
        _CLEAN,
    )


def bonded(barrier: str) -> tuple[Item, ...]:
    """A joint with paste."""
    return (
        Item("ready", "Everything is laid ready", "Clamps set to width, pads, wedges, a straight edge, wipes."),
        Item("faces", "Both faces are ready and still clean", "Water runs in a film; no finger has touched them."),
        *([Item("barrier", f"Barrier: {barrier}")] if barrier else []),
        Item("paste", "Paste mixed in small cups, combed onto both faces"),
        Item("together", "Parts together in one move, no sliding about"),
        Item("clamp", "Clamped from the middle outwards: contact, no more"),
        Item("align", "Alignment checked again before it sets"),
        Item("squeeze", "Squeeze-out all round; a photograph of it"),
        Item("wipe", "Squeeze-out struck off into a fillet, where it would lock nothing that must stay loose"),
        _CLEAN,
    )


def glued() -> tuple[Item, ...]:
    """A wood joint."""
    return (
        Item("ready", "Everything is laid ready", "Dry fitted once more; clamps, film, blocks within reach."),
        Item("coat", "Both faces coated thin; end grain twice"),
        Item("thick", "Thickened glue on one face"),
        Item("together", "Joined and held: contact pressure only, more starves an epoxy joint"),
        Item("square", "Square and straight, checked before it sets"),
        Item("clean", "Squeeze-out wiped, witness cup kept beside it"),
    )


def brushed() -> tuple[Item, ...]:
    """A coat of varnish."""
    return (
        Item("ready", "Dusted and tacked off, glue faces masked, stand free"),
        Item("stood", "The mix has stood its time"),
        Item("edges", "Edges, holes and end grain first"),
        Item("faces", "Faces thin and wet in one direction"),
        Item("runs", "Runs brushed out after ten minutes, against the light"),
        Item("clean", "Brush cleaned, witness kept"),
    )


def spread() -> tuple[Item, ...]:
    """A fill."""
    return (
        Item("ready", "Abraded, dusted, low spots marked"),
        Item("mix", "Filler mixed until it is one colour"),
        Item("low", "Low spots first, pressed in against trapped air"),
        Item("long", "Drawn off with the long blade along the span"),
        Item("thin", "No more than a few millimetres at once"),
        Item("clean", "Tools cleaned, witness kept"),
    )


def items(recipe: str, step: Step, hand: Hand, stack: Stack | None, barrier: str = "") -> tuple[Item, ...]:
    """The instructions of a step, by what is built so; none where there is nothing to call out.

    Parameters
    ----------
    stack : Stack or None
        What is laid up, where anything is.
    barrier : str
        What keeps the faces of a joint apart, where something must.
    """
    if not step.called_out:
        return ()
    if recipe == paste_bond.NAME:
        return bonded(barrier)
    if recipe == wood_frame.NAME:
        return glued()
    if recipe == varnish.NAME:
        return brushed()
    if recipe == fill_fair.NAME:
        return spread()
    return _laid_up(recipe, step.local, hand, stack) if stack is not None else ()


def _laid_up(recipe: str, key: str, hand: Hand, stack: Stack) -> tuple[Item, ...]:
    if recipe == foam_core.NAME:
        slurry = (Item("slurry", "Foam slurried until it drinks no more"),)
        return laid(stack.plies, 1, hand, before=slurry, bagged=False)
    if recipe == spar_cap.NAME:
        first, second = spar_cap.halves(stack.plies)
        return laid(first, 1, hand) if key.startswith("stage-1") else laid(second, len(first) + 1, hand)
    if key.startswith("core"):
        return bedded(stack.core.name if stack.core else "")
    return (
        laid(stack.outside, 1, hand) if key.startswith("skin-1") else laid(stack.inside, len(stack.outside) + 1, hand)
    )
