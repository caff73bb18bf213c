"""A face to be bonded: what makes it ready, in order, how long it stays so, and how it is now.

What a face wants, and how long it stays ready, is common practice; the maker's instructions decide.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from kiteloom.core.base.problems import Refused, between

Face = Literal["cured laminate", "carbon", "aluminium", "steel", "wood"]
FACES: tuple[str, ...] = get_args(Face)
#: That a face was touched, or got wet or dusty: all that was done to it is void.
TOUCHED = "touched"
#: That all of it was done, without a word of when each.
ALL = "all"
#: How long a face stays ready once it is wiped, or cut [min].
READY_MIN: dict[str, float] = {"cured laminate": 240, "carbon": 240, "aluminium": 120, "steel": 120, "wood": 480}
#: What was ready so long ago is bare: not even its washing counts [min].
BARE_AFTER_MIN = 12 * 60.0
#: The moisture wood is glued at, and by how much both sides may differ [%].
LEAST_MOIST_PCT, MOST_MOIST_PCT, MOIST_APART_PCT = 8.0, 12.0, 2.0


@dataclass(frozen=True)
class Treatment:
    """One thing that is done to a face: what, in short; what it is then; and more of it."""

    key: str
    does: str
    state: str
    detail: str = ""
    in_the_wet: bool = False
    """Only where the joint must last in the wet."""
    asks: Literal["", "moisture"] = ""


_ABRADE = Treatment("abrade", "abrade it until it is dull all over", "abraded", "Dry dust off with a vacuum cleaner.")
_WIPE = Treatment("wipe", "wipe it with clean cloths, one way, until they stay clean", "wiped")
_LAMINATE = (
    Treatment("wash", "wash the blush off with water", "washed",
              "Before any abrading: paper rubs the blush in. Peel ply alone is no preparation."),
    _ABRADE,
    Treatment("wipe", "wipe it; water must run in a film, then dry it", "wiped", "Where it beads, begin again."),
)  # fmt: skip
_TREATMENTS: dict[str, tuple[Treatment, ...]] = {
    "cured laminate": _LAMINATE,
    "carbon": _LAMINATE,
    "aluminium": (
        Treatment("degrease", "degrease it", "washed", "Before any abrading: paper rubs the grease in."),
        _ABRADE,
        _WIPE,
        Treatment("etch", "etch or conversion coat it where it must last in the wet", "etched",
                  "As its maker says; rinsed, dried, not touched again.", in_the_wet=True),
    ),
    "steel": (
        Treatment("strip", "take the plating off at the joint", "stripped of its plating",
                  "Cadmium plating and its dust are poison: wet, gloved, masked, and gathered up."),
        _ABRADE,
        _WIPE,
    ),
    "wood": (
        Treatment("cut", "plane or cut a fresh face, plywood sanded lightly", "cut fresh", "Glued the same day."),
        Treatment("moisture", "read its moisture: 8 to 12 % and alike on both sides", "moisture read",
                  asks="moisture"),
        Treatment("dust", "brush the dust off", "clean"),
    ),
}  # fmt: skip


def treatments(face: str, *, wet: bool = False) -> tuple[Treatment, ...]:
    """What makes a face ready, in order; ``wet`` where the joint must last in the wet.

    >>> [one.key for one in treatments("aluminium")], [one.key for one in treatments("aluminium", wet=True)]
    (['degrease', 'abrade', 'wipe'], ['degrease', 'abrade', 'wipe', 'etch'])
    """
    if face not in FACES:
        raise Refused("faces", f"“{face[:40]}” is no face; they are {', '.join(FACES)}")
    return tuple(one for one in _TREATMENTS[face] if wet or not one.in_the_wet)


#: The same in one sentence.
PREPARE: dict[str, str] = {face: "; ".join(one.does for one in treatments(face, wet=True)) for face in FACES}

State = Literal["bare", "under way", "ready", "expired", "contaminated"]


@dataclass(frozen=True)
class FaceNow:
    """How a face is: in one word, what was done last, what counts of it, until when it is ready, and what comes next.

    ``amiss`` says what was done too early to count; ``""`` when nothing was.
    """

    state: State
    last: str
    counts: frozenset[str]
    until: float | None
    next: Treatment | None
    amiss: str = ""

    def words(self, at: Callable[[float], str]) -> str:
        """How it is, as a builder says it; ``at`` says a time.

        >>> face_now("steel", [("strip", 0), ("wipe", 5)], 10).words(str)
        'stripped of its plating; next: abrade it until it is dull all over. It was wiped before it was abraded: that \
does not count'
        >>> face_now("wood", [], 0).words(str), face_now("wood", [("all", 10)], 20).words(str)
        ('bare; first: plane or cut a fresh face, plywood sanded lightly', 'ready until 490')
        """
        if self.state == "ready" and self.until is not None:
            return f"ready until {at(self.until)}"
        assert self.next is not None
        then = f"next: {self.next.does}" if self.state == "under way" else f"first: {self.next.does}"
        if self.until is not None:
            how = f"{self.state}: it was ready until {at(self.until)}"
        else:
            how = self.last if self.state == "under way" else self.state
        return f"{how}; {then}{f'. {self.amiss[:1].upper()}{self.amiss[1:]}' if self.amiss else ''}"


def face_now(face: str, done: Sequence[tuple[str, float]], now: float, *, wet: bool = False) -> FaceNow:
    """How a face is now, from what was done to it.

    Parameters
    ----------
    done : sequence of (str, float)
        What, by the keys of its treatments, `TOUCHED` or `ALL`, and when [min]; oldest first.
    now : float
        [min].

    Notes
    -----
    A treatment counts only after those before it: abraded before it was washed, a laminate is still to be washed.
    Done once more, it asks for those after it once more.

    Examples
    --------
    >>> done = [("wash", 0), ("abrade", 30), ("wipe", 45)]
    >>> face_now("carbon", done, 60).until, face_now("carbon", done, 400).state, face_now("carbon", done, 1440).state
    (285, 'expired', 'bare')
    """
    wanted = treatments(face, wet=wet)
    place = {one.key: n for n, one in enumerate(wanted)}
    stays = READY_MIN[face]
    count, ready_at, state, amiss = 0, None, "bare", ""
    for key, at in done:
        if ready_at is not None and at > ready_at + stays:
            count, ready_at, state = 0, None, "bare"
        if key == TOUCHED:
            count, ready_at, state, amiss = 0, None, "contaminated", ""
            continue
        n = len(wanted) - 1 if key == ALL else place.get(key)
        if n is None or (key == ALL and ready_at is not None):
            continue
        if key != ALL and n > count:
            amiss = f"it was {wanted[n].state} before it was {wanted[count].state}: that does not count"
            continue
        count, state = n + 1, "under way"
        amiss = ""
        ready_at = at if count == len(wanted) else None
    until = None if ready_at is None else ready_at + stays
    if until is not None and now > until:
        old = now - until > BARE_AFTER_MIN
        return FaceNow("bare" if old else "expired", wanted[-1].state, frozenset(), until, wanted[0], amiss)
    counts = frozenset(one.key for one in wanted[:count])
    if until is not None:
        return FaceNow("ready", wanted[-1].state, counts, until, None, amiss)
    last = wanted[count - 1].state if count else ""
    return FaceNow(state, last, counts, None, wanted[count], amiss)  # type: ignore[arg-type]  # one of its words


def moisture_says(one_pct: float | None, other_pct: float | None) -> str:
    """What the moisture of two faces of wood asks for; ``""`` when it is as it should be.

    >>> moisture_says(10.0, 11.0), moisture_says(9.0, 12.0)
    ('', 'The two sides differ by 3 % moisture, more than 2 %: they will pull at the glue line. Let them lie together.')
    """
    for value in (one_pct, other_pct):
        if value is not None and not LEAST_MOIST_PCT <= value <= MOST_MOIST_PCT:
            why = "dry it" if value > MOST_MOIST_PCT else "let it take up damp"
            return (
                f"Moisture is {value:g} %; wood is glued at {LEAST_MOIST_PCT:g} to {MOST_MOIST_PCT:g} %: {why} first."
            )
    if one_pct is not None and other_pct is not None and abs(one_pct - other_pct) > MOIST_APART_PCT + 1e-9:
        return (
            f"The two sides differ by {abs(one_pct - other_pct):g} % moisture, more than {MOIST_APART_PCT:g} %: "
            "they will pull at the glue line. Let them lie together."
        )
    return ""


def room_says(pct: float, room_pct: float) -> str:
    """What wood will do in a room that brings it to another moisture; ``""`` where that is near enough.

    >>> room_says(9.0, 10.5), room_says(8.0, 13.2)
    ('', 'this room brings wood to 13.2 %: it will take up damp and swell; let it lie here for some days first')
    """
    if abs(room_pct - pct) <= MOIST_APART_PCT + 1e-9:
        return ""
    goes = "take up damp and swell" if room_pct > pct else "dry and shrink"
    return f"this room brings wood to {room_pct:.1f} %: it will {goes}; let it lie here for some days first"


def moisture(pct: float, field: str = "moisture") -> float:
    """A moisture that a meter can read [%]; `Refused` otherwise.

    >>> moisture(10.5)
    10.5
    """
    return between(field, pct, 2, 60, unit="%", name="the moisture")


def barrier_between(one: str, other: str) -> str:
    """What keeps two faces apart; ``""`` where nothing must.

    >>> barrier_between("carbon", "aluminium")
    'a glass ply between: carbon must not touch metal'
    """
    for face in (one, other):
        treatments(face)
    pair, metals = {one, other}, {"aluminium", "steel"}
    if "carbon" in pair and pair & metals:
        return "a glass ply between: carbon must not touch metal"
    if pair == metals:
        return "solid glass beads or a thin glass scrim: the metals must not touch"
    return ""
