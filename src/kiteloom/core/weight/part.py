"""What stays on a part: predicted from its jobs with a band, weighed, and the difference explained.

How far a prediction may be off is common practice: cloth is made to a few percent, the resin in it depends on hands and
vacuum, what is squeezed out, sanded off or dries away most of all.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.quantities import UnitSystem, show

Kind = Literal["cloth", "resin", "core", "uptake", "adhesive", "filler", "coat", "wood"]
#: How far each may be off, either way (common practice) [-].
OFF: dict[str, float] = {
    "cloth": 0.03,
    "resin": 0.15,
    "core": 0.08,
    "uptake": 0.25,
    "adhesive": 0.35,
    "filler": 0.4,
    "coat": 0.25,
    "wood": 0.12,
}
#: What of a fill stays once it is sanded (common practice) [-].
SANDED = 0.5
#: A fibre share this far from the sheet's is worth a sentence [-].
_WORTH = 0.04
#: A weighing that many times from what was computed is asked about: a slip of the unit is 12 times or more [-].
ODD = 3.0


@dataclass(frozen=True)
class Stays:
    """So much of one thing that stays on a part from a step [g], and how it was reckoned."""

    step: str
    kind: Kind
    name: str
    grams: float
    rule: str
    given: tuple[Given, ...] = ()


@dataclass(frozen=True)
class Band:
    """A weight, and between what it is likely to lie [g]."""

    grams: float
    low: float
    high: float

    def __add__(self, other: Band) -> Band:
        """Both together: what is off in one has nothing to do with the other."""
        total = self.grams + other.grams
        below = math.hypot(self.grams - self.low, other.grams - other.low)
        above = math.hypot(self.high - self.grams, other.high - other.grams)
        return Band(total, total - below, total + above)


NOTHING = Band(0.0, 0.0, 0.0)


def predicted(stays: Iterable[Stays]) -> Band:
    """All of it with its band: what is of one kind is off together, kinds are off each by itself.

    >>> found = predicted([Stays("a", "cloth", "twill", 400, ""), Stays("a", "resin", "Tarn", 300, "")])
    >>> found.grams, round(found.low), round(found.high)
    (700.0, 653, 747)
    """
    by_kind: dict[str, float] = {}
    for one in stays:
        by_kind[one.kind] = by_kind.get(one.kind, 0.0) + one.grams
    total = sum(by_kind.values())
    off = math.sqrt(sum((grams * OFF[kind]) ** 2 for kind, grams in by_kind.items()))
    return Band(total, max(total - off, 0.0), total + off)


def stays_figures(stays: Sequence[Stays]) -> tuple[Figure, ...]:
    """Each kind of thing that stays, one figure a name."""
    rows: dict[tuple[str, str], list[Stays]] = {}
    for one in stays:
        rows.setdefault((one.kind, one.name), []).append(one)
    return tuple(
        Figure(
            f"stays:{kind}:{name}",
            name,
            sum(one.grams for one in mine),
            "mass",
            mine[0].rule,
            tuple(dict.fromkeys(item for one in mine for item in one.given)),
            f"It may be off by {OFF[kind]:.0%} either way (common practice).",
        )
        for (kind, name), mine in rows.items()
    )


@dataclass(frozen=True)
class Done:
    """A job of a part in order: what stays of it, which of its steps are finished, and what was weighed round it [g].

    Keys of ``finished`` are its own steps'.
    """

    stays: tuple[Stays, ...]
    finished: frozenset[str] = frozenset()
    before_g: float | None = None
    after_g: float | None = None


def stands(jobs: Sequence[Done]) -> tuple[Band, Band]:
    """What a part weighs now, and what it will when all is done: from its last weighing on, as predicted.

    >>> skin = Done((Stays("lay", "cloth", "twill", 400, ""),), frozenset(["lay"]), after_g=390)
    >>> paint = Done((Stays("coat", "coat", "primer", 100, ""),))
    >>> now, whole = stands([skin, paint])
    >>> now, round(whole.grams), round(whole.high)
    (Band(grams=390, low=390.0, high=390.0), 490, 515)
    """
    now = whole = NOTHING
    for job in jobs:
        if job.before_g is not None:
            now = whole = _exactly(job.before_g)
        on, ahead = predicted(s for s in job.stays if s.step in job.finished), predicted(job.stays)
        now, whole = now + on, whole + ahead
        if job.after_g is not None:
            now = whole = _exactly(job.after_g)
    return now, whole


def _exactly(grams: float) -> Band:
    return Band(grams, grams, grams)


def fibre_share(stays: Sequence[Stays], added_g: float) -> float | None:
    """The share of fibre by weight in the plies of a job that added so much; None where it has none, or too little.

    Its core and what that takes up count as predicted.

    >>> rows = [Stays("a", "cloth", "twill", 580, ""), Stays("a", "resin", "Tarn", 420, "")]
    >>> fibre_share(rows, 1100)
    0.5272727272727272
    """
    cloth = sum(one.grams for one in stays if one.kind == "cloth")
    others = sum(one.grams for one in stays if one.kind not in ("cloth", "resin"))
    resin = added_g - others - cloth
    return cloth / (cloth + resin) if cloth > 0 and resin > 0 else None


def explained(stays: Sequence[Stays], added_g: float, area_m2: float, units: UnitSystem) -> tuple[str, bool]:
    """What a job added against what was predicted, in words, and whether it is within its band.

    Parameters
    ----------
    added_g : float
        What it weighed after, less what it weighed before [g].
    area_m2 : float
        What was laid up, filled or coated; 0 where it is not known [m²].

    >>> rows = [Stays("a", "cloth", "twill", 580, ""), Stays("a", "resin", "Tarn", 420, "")]
    >>> explained(rows, 1220, 2, "metric")[0][:67]
    'It added 1.22 kg, 220 g more than the 1.00 kg computed. Fibre in it'
    """
    band = predicted(stays)
    off = added_g - band.grams
    inside = band.low <= added_g <= band.high
    came, computed = show(added_g, "mass", units), show(band.grams, "mass", units)
    more = "more" if off > 0 else "less"
    by = f"It added {came}, {show(abs(off), 'mass', units)} {more} than the {computed} computed"
    first = f"It added {came}, as computed ({computed})." if inside else f"{by}."
    why = _why(stays, added_g, off, area_m2, units)
    return (f"{first} {why}" if why else first), inside


def _why(stays: Sequence[Stays], added_g: float, off: float, area_m2: float, units: UnitSystem) -> str:
    kinds = {one.kind: sum(s.grams for s in stays if s.kind == one.kind) for one in stays}
    if "cloth" in kinds:
        return _laminate(stays, kinds, added_g, units)
    if "filler" in kinds:
        if area_m2 > 0:
            spread = show(max(added_g, 0.0) / area_m2, "areal weight", units)
            wanted = show(kinds["filler"] / area_m2, "areal weight", units)
            return f"That is {spread} of filler left after sanding, where {wanted} were computed."
        return ""
    if "coat" in kinds and area_m2 > 0:
        return (
            f"That is {show(max(added_g, 0.0) / area_m2, 'areal weight', units)} dry, where "
            f"{show(kinds['coat'] / area_m2, 'areal weight', units)} were computed: a thicker film, or more coats."
            if off > 0
            else ""
        )
    if "adhesive" in kinds and off > 0:
        return "More was squeezed out and left on, or gaps were wider than the glue line that was given."
    return ""


def _laminate(stays: Sequence[Stays], kinds: dict[Kind, float], added_g: float, units: UnitSystem) -> str:
    share = fibre_share(stays, added_g)
    planned = kinds["cloth"] / (kinds["cloth"] + kinds.get("resin", 0.0))
    dry = kinds["cloth"] + sum(grams for kind, grams in kinds.items() if kind not in ("cloth", "resin"))
    if share is None:
        return (
            f"Its cloth and core alone weigh {show(dry, 'mass', units)}: was all of it on the scale, and in which unit?"
        )
    words = f"Fibre in it: {100 * share:.0f} % by weight, {100 * planned:.0f} % was computed."
    resin = kinds.get("resin", 0.0)
    if share < planned - _WORTH:
        wet = show(kinds["cloth"] * (1 / share - 1) - resin, "mass", units)
        return f"{words} Wet: {wet} of resin that was not squeezed or bled out, or left under the peel ply."
    if share > planned + _WORTH:
        short = show(resin - kinds["cloth"] * (1 / share - 1), "mass", units)
        return f"{words} Dry by {short} of resin: look for white and dull places, tap it all over, show its inspector."
    return words


def odd_weight(typed_g: float, expected: Band, units: UnitSystem) -> str:
    """A question where a weighing is several times what was computed: a slip of the unit; ``""`` where it is not.

    >>> odd_weight(12_000, Band(1000, 900, 1100), "metric")
    '12.00 kg is 12 times what is computed, 1.00 kg: in which unit did the scale show it?'
    >>> odd_weight(1100, Band(1000, 900, 1100), "metric")
    ''
    """
    if expected.grams <= 0 or typed_g <= 0:
        return ""
    times = typed_g / expected.grams
    computed, shown = show(expected.grams, "mass", units), show(typed_g, "mass", units)
    ask = "in which unit did the scale show it?"
    if times >= ODD:
        return f"{shown} is {times:.0f} times what is computed, {computed}: {ask}"
    if times <= 1 / ODD:
        return f"{shown} is a {_ordinal(1 / times)} of what is computed, {computed}: {ask}"
    return ""


def _ordinal(times: float) -> str:
    n = round(times)
    words = {3: "third", 4: "quarter", 5: "fifth", 6: "sixth", 8: "eighth", 10: "tenth", 12: "twelfth"}
    return words.get(n, f"{n}th part")
