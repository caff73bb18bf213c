"""Zones of a ply book as they are typed, drawn and dragged, and the stacks side by side."""

from __future__ import annotations

from dataclasses import dataclass, replace

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, unit
from kiteloom.core.laminate.cover import Cover, Region
from kiteloom.core.laminate.zones import (
    KEPT_OFF,
    KINDS,
    MAY_LIE,
    NO_INSERT,
    STEP,
    Band,
    Corner,
    Drawn,
    Strip,
    Zone,
    asks,
    texts_of,
    zone_on,
)
from kiteloom.core.shape.loft import Hand, Ring, mirrored
from kiteloom.core.shape.section import Point
from kiteloom.core.shape.skin import Skin
from kiteloom.workshop.base.saying import AsText


@dataclass(frozen=True)
class Moved:
    """A figure that follows what is dragged: its ``value`` in a unit, between what it may lie.

    ``per_m`` is by how much it grows with each metre it is dragged to the side, and aft.
    """

    unit: str
    value: float
    low: float
    high: float
    per_m: tuple[float, float]


@dataclass(frozen=True)
class Handle:
    """An edge or a corner of a zone that can be dragged: where it is held on the drawing (to the side, aft) [m].

    An edge moves the figure of its ``field``; a corner, ``corners.n``, its place along the span and across it.
    """

    field: str
    name: str
    at: Point
    moves: list[Moved]


@dataclass(frozen=True)
class ZoneView:
    """A zone as it is typed and drawn. ``corners`` is a line each where its outline is drawn.

    ``wrong`` says why it can't lie on its part, where it can't: there is no ring and no area then.
    """

    name: str
    kind: str
    fields: list[AsText]
    insert: str
    """What is let into the core there, of those a hard point may be of."""
    threads: str
    joints: str
    """Whether joints of the cloth may lie on it."""
    corners: str
    rings: tuple[Ring, ...]
    area: Figure | None
    handles: list[Handle]
    wrong: str


@dataclass(frozen=True)
class RegionView:
    """A piece of the side that the same zones lie over; ``plies`` are places in the book; ``core`` if it is there.

    ``name`` is what it is called among the others, ``where`` as it stands in a sentence.
    """

    name: str
    where: str
    rings: tuple[Ring, ...]
    plies: list[int]
    core: bool
    code: str
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class NewZone:
    """A kind of zone that can be added, and what it begins with."""

    kind: str
    name: str
    texts: dict[str, str]
    corners: str


def zone_view(skin: Skin | None, zone: Zone, n: int, hand: Hand, units: UnitSystem) -> ZoneView:
    """A zone of a part of one hand, the ``n``-th of its book; where it can't lie on its side, only what was typed."""
    texts, corners = texts_of(zone, units)
    fields = [AsText(name, one.label, texts[name], one.unit_for(units)) for name, one in asks(zone.place).items()]
    fields.append(AsText("step_m", STEP.label, texts["step_m"], STEP.unit_for(units)))
    insert, threads = zone.insert or NO_INSERT, str(zone.threads) if zone.threads else ""
    joints = KEPT_OFF if zone.no_joints else MAY_LIE
    view = ZoneView(zone.name, zone.place.kind, fields, insert, threads, joints, corners, (), None, [], "")
    if skin is None:
        return replace(view, wrong="the part has no one surface that a zone could lie on")
    try:
        piece = zone_on(skin, zone, n)
    except Refused as refused:
        return replace(view, wrong=refused.sentence)
    area = Figure(
        f"zone:{zone.name}",
        "It covers",
        skin.area_of(piece),
        "area",
        "area of the skin inside its edges, without its steps",
        (Given("all of the side", skin.area_of(skin.whole), "area"),),
        "The side laid flat, its own area kept.",
    )
    grips = _handles(skin, zone.place, hand, units)
    return replace(view, rings=skin.drawn(piece, hand), area=area, handles=grips)


def _handles(skin: Skin, place: Band | Strip | Drawn, hand: Hand, units: UnitSystem) -> list[Handle]:
    """The edges of a band and the ends of a strip by their field; each corner of a drawn outline."""
    if isinstance(place, Drawn):
        return [_corner(skin, corner, n, hand, units) for n, corner in enumerate(place.corners)]
    asked = asks(place)

    def edge(field: str, at_m: float, share: float) -> Handle:
        one = asked[field]
        along = field in ("from_m", "to_m")
        moved = _along(skin, one, at_m, hand, units) if along else _across(skin, one, at_m, share, units)
        return Handle(field, one.label, skin.point(at_m, share, hand), [moved])

    if isinstance(place, Strip):
        return [edge("from_m", place.from_m, place.from_share), edge("to_m", place.to_m, place.to_share)]
    along, across = (place.from_m + place.to_m) / 2, (place.lead + place.tail) / 2
    return [
        edge("from_m", place.from_m, across),
        edge("to_m", place.to_m, across),
        edge("lead", along, place.lead),
        edge("tail", along, place.tail),
    ]


def _corner(skin: Skin, corner: Corner, n: int, hand: Hand, units: UnitSystem) -> Handle:
    asked, at_m, share = asks(corner), corner.at_m, corner.share
    along = _along(skin, asked["at_m"], at_m, hand, units)
    across = _across(skin, asked["share"], at_m, share, units)
    # Dragged along the span, it moves between edges that lean: its share of the chord changes with them.
    near, far = max(at_m - _LEAN_M, float(skin.at_m[0])), min(at_m + _LEAN_M, float(skin.at_m[-1]))
    aft = [lead + share * chord for lead, chord in (skin.edges_at(near), skin.edges_at(far))]
    leans = (aft[1] - aft[0]) / (far - near)
    per = across.per_m[1]
    across = replace(across, per_m=(mirrored(leans * per, hand), per))
    return Handle(f"corners.{n}", f"corner {n + 1}", skin.point(at_m, share, hand), [along, across])


#: So far to either side the edges are looked at to tell how they lean [m].
_LEAN_M = 0.01


def _shown(asked: Asked, units: UnitSystem) -> tuple[str, float]:
    """The unit a figure is typed in, and how many of it one of it as it is kept has."""
    symbol = asked.unit_for(units)
    used = unit(symbol, asked.dimension)
    return symbol, asked.scale / (used.factor if used is not None else 1.0)


def _along(skin: Skin, asked: Asked, at_m: float, hand: Hand, units: UnitSystem) -> Moved:
    symbol, shown = _shown(asked, units)
    low, high = float(skin.at_m[0]), float(skin.at_m[-1])
    return Moved(symbol, at_m * shown, low * shown, high * shown, (mirrored(-shown, hand), 0.0))


def _across(skin: Skin, asked: Asked, at_m: float, share: float, units: UnitSystem) -> Moved:
    symbol, shown = _shown(asked, units)
    _, chord = skin.edges_at(at_m)
    return Moved(symbol, share * shown, 0.0, shown, (0.0, shown / chord if chord else 0.0))


def region_view(cover: Cover, region: Region, hand: Hand) -> RegionView:
    """A piece of the side with its own stack."""
    lie = "lie" if len(region.zones) > 1 else "lies"
    where = f"where {' and '.join(region.zones)} {lie}" if region.zones else "elsewhere"
    thickness = Figure(
        f"region:{where}",
        "Thickness",
        region.thickness_mm,
        "thickness",
        "sum over the plies there, and the core",
        (),
        "CMH-17 / MIL-HDBK-17 ply relations; no voids.",
    )
    size = Figure(
        f"area:{where}", "It covers", region.area_m2, "area", "area of the skin where just these zones lie", (), ""
    )
    core = cover.stack.core is not None and cover.stack.core_zone in {"", *region.zones}
    rings = cover.skin.drawn(cover.piece(region.zones), hand)
    name = " + ".join(region.zones) or "elsewhere"
    return RegionView(name, where, rings, list(region.plies), core, region.code, (size, thickness))


def new_zones(skin: Skin, units: UnitSystem) -> list[NewZone]:
    """What a new zone of each kind begins with: the middle of the part."""
    low, high = float(skin.at_m[0]), float(skin.at_m[-1])
    from_m, to_m = (round(low + share * (high - low), 2) for share in (0.0, 0.25))
    middle, end = (round(low + share * (high - low), 2) for share in (0.25, 0.5))
    begins: dict[str, Band | Strip | Drawn] = {
        "band": Band(from_m, to_m),
        "strip": Strip(low, 0.3, high, 0.3, 0.06),
        "drawn": Drawn(
            tuple(Corner(at, share) for at, share in ((middle, 0.2), (end, 0.2), (end, 0.6), (middle, 0.6)))
        ),
    }
    found = []
    for kind, place in begins.items():
        view = texts_of(Zone("", place), units)
        found.append(NewZone(kind, KINDS[kind][0], *view))
    return found
