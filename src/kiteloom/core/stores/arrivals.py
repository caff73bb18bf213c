"""What came against what was ordered and what the steps need: the neighbouring thread, the wrong hand, too short, too
little.

References
----------
Metric threads: ISO 261, coarse pitches; inch threads: ASME B1.1, a number size is 0.060 in + 0.013 in × the number
(both from memory).
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.stores.ledger import SCALES

INCH_MM = 25.4
#: Coarse pitches of ISO 261 [mm].
COARSE = {2: 0.4, 2.5: 0.45, 3: 0.5, 4: 0.7, 5: 0.8, 6: 1.0, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2.0, 16: 2.0}
#: A washer, a nut and a thread to be seen take so many diameters beyond what is clamped (common practice) [-].
BEYOND = 1.5
#: Threads this near to each other are taken for each other in the hand [mm].
NEAR_MM = 1.1
HANDS = ("", "left", "right")
_METRIC = re.compile(r"^M\s*(\d+(?:[.,]\d+)?)(?:\s*[x×]\s*(\d+(?:[.,]\d+)?))?$", re.IGNORECASE)
_INCH = re.compile(r"^(?:#|No\.?\s*)?(\d+(?:/\d+)?)\s*-\s*(\d+)$", re.IGNORECASE)


@dataclass(frozen=True)
class Looks:
    """What an item looks like, as far as it is known, or can be read off its bag."""

    thread: Annotated[str, Asked("Thread", "words")] = ""
    length_mm: Annotated[
        float | None, Asked("Length", dimension="length", scale=1e-3, unit=("mm", "in"), low=0.1, high=20_000)
    ] = None
    hand: Annotated[str, Asked("Hand", "choice", choices=HANDS)] = ""
    size: Annotated[str, Asked("Size or variant", "words")] = ""


@dataclass(frozen=True)
class Thread:
    """A thread: how thick, and how far one turn takes it [mm]."""

    diameter_mm: float
    pitch_mm: float


def thread_of(text: str) -> Thread | None:
    """A thread as it is written on a bag; None where it is not understood.

    >>> thread_of("M5"), thread_of("10-32")
    (Thread(diameter_mm=5.0, pitch_mm=0.8), Thread(diameter_mm=4.826, pitch_mm=0.79375))
    """
    typed = text.strip()
    metric, inch = _METRIC.match(typed), _INCH.match(typed)
    if metric:
        thick = float(metric[1].replace(",", "."))
        pitch = float(metric[2].replace(",", ".")) if metric[2] else COARSE.get(thick)
        return Thread(thick, pitch) if pitch and thick > 0 else None
    if inch and int(inch[2]) > 0:
        top, _, bottom = inch[1].partition("/")
        if bottom and not int(bottom):
            return None
        inches = int(top) / int(bottom) if bottom else 0.060 + 0.013 * int(top)
        return Thread(round(INCH_MM * inches, 4), INCH_MM / int(inch[2]))
    return None


def arrived(
    ordered: Looks,
    came: Looks,
    stacks_mm: Sequence[tuple[str, float]] = (),
    units: UnitSystem = "metric",
) -> tuple[str, ...]:
    """What is odd about what came, in sentences; what was not read off its bag is not asked about.

    Parameters
    ----------
    stacks_mm : sequence of (what for, mm)
        What fasteners of it go through.

    Examples
    --------
    >>> arrived(Looks("M5"), Looks("M6"))[0]
    'M6 came, and M5 was ordered: the neighbouring thread. It does not go into what is tapped M5.'
    >>> arrived(Looks("M5", 25), Looks("M5", 20), [("Hinge", 15)])[1]
    'For “Hinge” it goes through 15.0 mm; with washer and nut that asks for 22.5 mm, and it is 20.0 mm long.'
    """
    found = []
    asked, got = thread_of(ordered.thread), thread_of(came.thread)
    if came.thread and ordered.thread and came.thread.strip().upper() != ordered.thread.strip().upper():
        near = asked is not None and got is not None and abs(asked.diameter_mm - got.diameter_mm) <= NEAR_MM
        same = near and asked is not None and got is not None and abs(asked.diameter_mm - got.diameter_mm) < 0.01
        if not same or asked != got:
            what = "the same thickness with another pitch" if same else "the neighbouring thread" if near else ""
            fits = f"It does not go into what is tapped {ordered.thread}."
            why = f": {what}" if what else ""
            found.append(f"{came.thread} came, and {ordered.thread} was ordered{why}. {fits}")
    if came.hand and ordered.hand and came.hand != ordered.hand:
        found.append(f"The {came.hand} one came, and the {ordered.hand} one was ordered.")
    if came.size and ordered.size and came.size.casefold() != ordered.size.casefold():
        found.append(f"“{came.size}” came, and “{ordered.size}” was ordered.")
    if came.length_mm is not None and ordered.length_mm is not None and came.length_mm != ordered.length_mm:
        came_long, asked_long = (show(mm, "reading", units) for mm in (came.length_mm, ordered.length_mm))
        found.append(f"It is {came_long} long, and {asked_long} was ordered.")
    length = came.length_mm if came.length_mm is not None else ordered.length_mm
    found += [words for what, mm in stacks_mm if (words := too_short(what, length, got or asked, mm, units))]
    return tuple(found)


def holds(came: float, ordered: float, measure: str, units: UnitSystem) -> str:
    """That a pack holds another amount than was ordered; ``""`` within what scales differ.

    Parameters
    ----------
    came, ordered : float
        In its measure: mass [g], run [m] or count.

    >>> holds(45, 90, "mass", "metric")
    'Each holds 45 g, and 90 g was ordered: 50 % of it.'
    """
    if abs(came - ordered) <= SCALES * ordered:
        return ""
    has, asked = (f"{value:g}" if measure == "count" else show(value, measure, units) for value in (came, ordered))
    return f"Each holds {has}, and {asked} was ordered: {100 * came / ordered:.0f} % of it."


def too_short(what: str, length_mm: float | None, thread: Thread | None, stack_mm: float, units: UnitSystem) -> str:
    """That a fastener is too short for what it goes through; ``""`` where it is not, or its length is not known.

    >>> too_short("Hinge", 25, Thread(5, 0.8), 15, "metric")
    ''
    """
    if length_mm is None:
        return ""
    least = stack_mm + (BEYOND * thread.diameter_mm if thread is not None else 0.0)
    if length_mm >= least - 1e-9:
        return ""
    through, asks, is_long = (show(mm, "reading", units) for mm in (stack_mm, least, length_mm))
    nut = "with washer and nut that asks for" if thread is not None else "that asks for at least"
    return f"For “{what}” it goes through {through}; {nut} {asks}, and it is {is_long} long."
