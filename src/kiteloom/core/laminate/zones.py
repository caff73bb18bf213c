"""Zones of a part's side: where plies lie that do not cover all of it.

A zone is a band between two places along the span and two shares of the chord, a strip of a width along a line, or a
drawn outline. Places are given by the span, as the part's shape counts it, and the share of the chord there.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Annotated, Any

import numpy as np
from shapely import difference, intersection, union
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from kiteloom.core.base.fields import Asked, Says, asked_of, made
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.core.shape.skin import Skin

_SPAN: dict[str, Any] = {"dimension": "length", "unit": ("m", "in"), "low": -100, "high": 100}
_CHORD: dict[str, Any] = {"dimension": "share", "scale": 100.0, "unit": ("%", "%"), "low": 0, "high": 1}
#: What lies no farther beside a part is at its edge [m].
_EDGE_M = 1e-6
#: A place is typed no finer than it can be marked out.
DIGITS = 4
#: The most corners of a drawn outline.
MOST_CORNERS = 200


@dataclass(frozen=True)
class Band:
    """From one place along the span to another, between two shares of the chord, 0 at the leading edge."""

    from_m: Annotated[float, Asked("From", **_SPAN)]
    to_m: Annotated[float, Asked("To", **_SPAN)]
    lead: Annotated[float, Asked("Chord from", **_CHORD)] = 0.0
    tail: Annotated[float, Asked("Chord to", **_CHORD)] = 1.0

    kind = "band"


@dataclass(frozen=True)
class Strip:
    """A strip of a width [m] along a line from one place to another: a spar cap, a hinge line."""

    from_m: Annotated[float, Asked("From", **_SPAN)]
    from_share: Annotated[float, Asked("At chord", **_CHORD)]
    to_m: Annotated[float, Asked("To", **_SPAN)]
    to_share: Annotated[float, Asked("At chord, end", **_CHORD)]
    width_m: Annotated[
        float, Asked("Width", dimension="length", unit=("mm", "in"), low=0, high=20, open_low=True)
    ]  # fmt: skip

    kind = "strip"


@dataclass(frozen=True)
class Corner:
    """A corner of a drawn outline."""

    at_m: Annotated[float, Asked("Along the span", **_SPAN)]
    share: Annotated[float, Asked("Share of the chord", **_CHORD)]


@dataclass(frozen=True)
class Drawn:
    """A drawn outline; it closes by itself."""

    corners: tuple[Corner, ...]

    kind = "drawn"


#: What may be let into the core at a hard point, and what it weighs [kg/m³] (common practice).
INSERTS: dict[str, float] = {"wood": 650.0, "glass laminate": 1850.0, "aluminium": 2700.0, "steel": 7850.0}
#: Of these carbon must be kept apart.
METALS = ("aluminium", "steel")
NO_INSERT = "none"
INSERT = Asked("Let into the core", "choice", choices=(NO_INSERT, *INSERTS))
THREADS = Asked("Threads in it", "count", low=0, high=200)
#: Where cloth is joined from widths of the roll, its joints lie where they do no harm.
MAY_LIE, KEPT_OFF = "may lie on it", "are kept off it"
JOINTS = Asked("Joints of the cloth", "choice", choices=(MAY_LIE, KEPT_OFF))
STEP = Asked("Steps of", dimension="length", unit=("mm", "in"), low=-0.5, high=0.5)


@dataclass(frozen=True)
class Zone:
    """A named piece of a part's side.

    ``step_m`` is by how much each ply of it ends short of the one laid before, at the edges that lie inside the part;
    below 0 it reaches over it [m]. ``insert`` is what is let into the core there, ``""`` for nothing: then it is a hard
    point, with so many ``threads``. ``no_joints`` keeps the joints of every ply off it.
    """

    name: str
    place: Band | Strip | Drawn
    step_m: Annotated[
        float, Asked("Each ply ends short by", dimension="length", unit=("mm", "in"), low=-0.5, high=0.5)
    ] = 0.0
    insert: str = ""
    threads: int = 0
    no_joints: bool = False

    @property
    def words(self) -> str:
        """A hard point in words.

        >>> Zone("hinge", Band(0, 1), insert="aluminium", threads=4).words
        '“hinge”, aluminium with 4 threads'
        """
        threads = f" with {self.threads} {'thread' if self.threads == 1 else 'threads'}" if self.threads else ""
        return f"“{self.name}”, {self.insert}{threads}"


#: Each kind of zone: what it is called, and its place.
KINDS: dict[str, tuple[str, type[Band] | type[Strip] | type[Drawn]]] = {
    "band": ("between two places", Band),
    "strip": ("along a line", Strip),
    "drawn": ("of a drawn outline", Drawn),
}


def zone_of(says: Says, n: int = 0) -> Zone:
    """A zone as it is kept, the ``n``-th of a book; `Refused` by field where it can't be.

    >>> zone_of({"name": "root", "kind": "band", "from_m": 0.0, "to_m": 1.5}).place
    Band(from_m=0.0, to_m=1.5, lead=0.0, tail=1.0)
    """
    if says.get("kind") not in KINDS:
        raise Refused(
            f"zones.{n}.kind", f"“{str(says.get('kind'))[:40]}” is no kind of zone; there are {', '.join(KINDS)}"
        )
    _, kind = KINDS[says["kind"]]
    try:
        step = STEP.within("step_m", says.get("step_m") or 0.0)
        insert = INSERT.within("insert", says.get("insert") or NO_INSERT)
        threads = THREADS.within("threads", says.get("threads") or 0)
        joints = JOINTS.within("joints", says.get("joints") or MAY_LIE)
        place: Band | Strip | Drawn = Drawn(_corners(says.get("corners"))) if kind is Drawn else made(kind, says)
    except Refused as refused:
        raise Refused(f"zones.{n}.{refused.field}", refused.sentence) from None
    insert, threads = ("", 0) if insert == NO_INSERT else (insert, threads)
    return checked(Zone(str(says.get("name") or ""), place, step, insert, threads, joints == KEPT_OFF), n)


def _corners(rows: object) -> tuple[Corner, ...]:
    if not isinstance(rows, (list, tuple)) or not all(isinstance(row, Mapping) for row in rows):
        raise Refused("corners", f"“{str(rows)[:40]}” are no corners; a list of places is wanted")
    return tuple(made(Corner, row) for row in rows)


def zone_says(zone: Zone) -> dict[str, Any]:
    """A zone as `zone_of` reads it.

    >>> zone_of(zone_says(Zone("cap", Strip(0.0, 0.3, 4.0, 0.3, 0.06)))).name
    'cap'
    """
    more: dict[str, Any] = {"insert": zone.insert, "threads": zone.threads} if zone.insert else {}
    if zone.no_joints:
        more["joints"] = KEPT_OFF
    return {"name": zone.name, "kind": zone.place.kind, "step_m": zone.step_m, **asdict(zone.place), **more}


def texts_of(zone: Zone, units: UnitSystem) -> tuple[dict[str, str], str]:
    """A zone as it is typed: its figures by field, and a drawn outline's corners, a line each.

    >>> texts_of(Zone("root", Band(0.0, 0.4), 0.008), "us")[0]
    {'from_m': '0 in', 'to_m': '15.75 in', 'lead': '0 %', 'tail': '100 %', 'step_m': '0.315 in'}
    """
    place = zone.place
    texts = {name: asked.text(getattr(place, name), units, DIGITS) for name, asked in asks(place).items()}
    texts["step_m"] = STEP.text(zone.step_m, units, DIGITS)
    if zone.insert:
        texts |= {"insert": zone.insert, "threads": THREADS.text(zone.threads)}
    if not isinstance(place, Drawn):
        return texts, ""
    rows = [[asked.text(getattr(at, name), units, DIGITS) for name, asked in asks(at).items()] for at in place.corners]
    return texts, "\n".join("; ".join(row) for row in rows)


def checked(zone: Zone, n: int = 0) -> Zone:
    """A zone whose figures lie within their limits; `Refused` by field, as of the ``n``-th of a book.

    >>> checked(Zone("root", Band(0.5, 0.2)))
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: zone “root” runs from 0.5 to 0.2 m; its end must lie beyond its beginning
    """
    at, place, name = f"zones.{n}", zone.place, zone.name
    if not name.strip():
        raise Refused(f"{at}.name", f"zone {n + 1} has no name yet")
    STEP.within(f"{at}.step_m", zone.step_m)
    for row in place.corners if isinstance(place, Drawn) else (place,):
        for field, asked in asks(row).items():
            asked.within(f"{at}.{field}", getattr(row, field))
    beyond = "its end must lie beyond its beginning"
    if isinstance(place, Drawn):
        between(f"{at}.corners", len(place.corners), 3, MOST_CORNERS, name=f"the number of corners of zone “{name}”")
    elif isinstance(place, Strip):
        if (place.from_m, place.from_share) == (place.to_m, place.to_share):
            raise Refused(f"{at}.to_m", f"the line of zone “{name}” has no length; {beyond}")
    elif place.to_m <= place.from_m:
        span = f"from {plain(place.from_m)} to {plain(place.to_m)} m"
        raise Refused(f"{at}.to_m", f"zone “{name}” runs {span}; {beyond}")
    elif place.tail <= place.lead:
        chord = f"from {plain(100 * place.lead)} to {plain(100 * place.tail)} % of the chord"
        raise Refused(f"{at}.tail", f"zone “{name}” runs {chord}; {beyond}")
    return zone


def asks(row: Band | Strip | Drawn | Corner) -> dict[str, Asked]:
    """What is asked of a place or a corner, by field; nothing of a drawn outline besides its corners.

    >>> list(asks(Corner(0.5, 0.3)))
    ['at_m', 'share']
    """
    kind: Any = type(row)
    return {} if kind is Drawn else {name: asked for name, (asked, _) in asked_of(kind).items()}


@lru_cache(maxsize=500)
def zone_on(skin: Skin, zone: Zone, n: int = 0) -> BaseGeometry:
    """A zone as it lies on a side laid flat, without steps.

    Raises
    ------
    Refused
        If it reaches beyond the part, crosses itself, or covers nothing of it.

    >>> skin = skin_of(PLANK, "lower")
    >>> cap = Zone("cap", Strip(0.0, 0.3, 4.0, 0.3, 0.06))
    >>> round(zone_on(skin, Zone("root", Band(0.0, 1.0))).area, 2), round(zone_on(skin, cap).area, 3)
    (1.02, 0.24)
    """
    place = zone.place
    _within_span(skin, zone, n)
    if isinstance(place, Band):
        found = skin.between(place.from_m, place.to_m, place.lead, place.tail)
    elif isinstance(place, Strip):
        ends = skin.place(np.array([place.from_m, place.to_m]), np.array([place.from_share, place.to_share]))
        found = intersection(LineString(ends).buffer(place.width_m / 2, cap_style="flat"), skin.whole)
    else:
        corners = [(corner.at_m, corner.share) for corner in place.corners]
        ring = skin.place(*(np.array([corner[i] for corner in corners]) for i in (0, 1)))
        drawn = Polygon(ring)
        if not drawn.is_valid:
            raise Refused(f"zones.{n}.corners", f"the outline of zone “{zone.name}” crosses itself")
        found = intersection(drawn, skin.whole)
    if found.area <= 0:
        raise Refused(f"zones.{n}", f"zone “{zone.name}” covers nothing of the part")
    return found


def _within_span(skin: Skin, zone: Zone, n: int) -> None:
    place, low, high = zone.place, float(skin.at_m[0]), float(skin.at_m[-1])
    if isinstance(place, Drawn):
        named = [(f"corners.{i}", corner.at_m) for i, corner in enumerate(place.corners)]
    else:
        named = [("from_m", place.from_m), ("to_m", place.to_m)]
    for name, at in named:
        if not low - _EDGE_M <= at <= high + _EDGE_M:
            runs = f"the part runs from {plain(low)} to {plain(high)} m"
            raise Refused(f"zones.{n}.{name}", f"zone “{zone.name}” reaches {plain(at)} m along the span; {runs}")


def stepped(skin: Skin, piece: BaseGeometry, by_m: float) -> BaseGeometry:
    """A zone cut back, or grown below 0, at those of its edges that lie inside the part.

    >>> skin = skin_of(PLANK, "lower")
    >>> root = skin.between(0, 1)
    >>> [round(stepped(skin, root, by).area, 3) for by in (0, 0.1, -0.1)]
    [1.02, 0.918, 1.122]
    """
    if by_m == 0:
        return piece
    edges = difference(piece.boundary, skin.whole.boundary.buffer(_EDGE_M))
    reach = edges.buffer(abs(by_m), cap_style="flat", join_style="mitre")
    return difference(piece, reach) if by_m > 0 else intersection(union(piece, reach), skin.whole)
