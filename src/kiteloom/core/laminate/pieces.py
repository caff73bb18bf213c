"""A ply book on a side → the pieces its cloth is cut into.

Each ply is laid flat, grown by its trim all round and cut square to its warp into widths that fit the roll. A joint is
put where it lies farthest from those of the other plies and from lines it is to be kept off.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from string import ascii_lowercase

import numpy as np
from shapely import get_coordinates, intersection, union_all
from shapely.affinity import rotate
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.laminate.cover import Cover
from kiteloom.core.shape.loft import Hand
from kiteloom.core.shape.section import Side
from kiteloom.core.shape.skin import polygons_of

#: Corners are left out where the edge strays no farther [m].
_FINE_M = 0.0002
#: Joints in several plies are kept so far from each other, where the roll lets them (common practice) [m].
STAGGER_M = 0.1
#: Places that are tried for a joint, to either side.
_TRIES = 12
#: What is so many times longer than wide is a line; a joint farther off its direction runs across it [-, °].
_LINE, _ACROSS_DEG = 4.0, 20.0
#: More pieces than this are no ply book.
MOST_PIECES = 3000


@dataclass(frozen=True)
class Cutting:
    """How a ply is cut, or a sheet.

    Parameters
    ----------
    roll_width_m : float
        The width of the cloth between its selvedges, or of a sheet across its grain [m].
    trim_m, overlap_m : float
        What is added all round and cut off later; how far one piece laps over the next [m].
    length_m : float or None
        How long a piece may be along its warp or grain; None where it may be as long as the roll [m].
    pitch_m : float
        Joints lie on ribs this far apart, the first at the piece's own edge; 0 where they need not [m].
    """

    roll_width_m: float
    trim_m: float = 0.0
    overlap_m: float = 0.0
    length_m: float | None = None
    pitch_m: float = 0.0

    def __post_init__(self) -> None:
        between("roll_width_mm", self.roll_width_m * 1000, 0, 10_000, unit="mm", name="the roll width", open_low=True)
        between("trim_mm", self.trim_m * 1000, 0, 500, unit="mm", name="the trim")
        between("overlap_mm", self.overlap_m * 1000, 0, 1000, unit="mm", name="the overlap")
        between("pitch_mm", self.pitch_m * 1000, 0, 5000, unit="mm", name="the pitch of the ribs")
        if self.length_m is not None:
            between("length_mm", self.length_m * 1000, 0, 1e6, unit="mm", name="the length", open_low=True)


@dataclass(frozen=True)
class Piece:
    """A piece of cloth in the part's axes, x from root to tip and y toward the leading edge.

    ``id`` is the number of its ply, and a letter where that has several; ``ply`` its place in the book.
    """

    id: str
    ply: int
    outline_mm: tuple[tuple[float, float], ...]
    angle_deg: float
    quantity: int = 1


@dataclass
class Joints:
    """Joints of cloth on a side laid flat: what they are kept off, and the middles of those there are.

    ``strayed`` counts those that lap over what they are kept off: the roll did not let them be beside it.
    """

    keep_off: tuple[BaseGeometry, ...] = ()
    there: list[BaseGeometry] = field(default_factory=list)
    strayed: int = 0

    def free(self, angle_deg: float, overlap_m: float) -> BaseGeometry:
        """Where the middle of a joint that runs at an angle must not be: a line it runs across is only crossed [°].

        >>> strip = Joints((box(0, 0, 4, 0.1),))
        >>> round(strip.free(0, 0.05).area, 2), strip.free(45, 0.05).area
        (0.61, 0.0)
        """
        lain_on = [zone for zone in self.keep_off if not _crossed(zone, angle_deg)]
        return union_all([zone.buffer(overlap_m / 2) for zone in lain_on]) if lain_on else Polygon()


def _crossed(zone: BaseGeometry, angle_deg: float) -> bool:
    """Whether a zone is a line, and a joint at an angle runs across it."""
    sides = np.diff(get_coordinates(zone.minimum_rotated_rectangle), axis=0)[:2]
    lengths = np.linalg.norm(sides, axis=1)
    along = sides[int(np.argmax(lengths))]
    if lengths.max() < _LINE * max(lengths.min(), 1e-9):
        return False
    off = abs(math.degrees(math.atan2(along[1], along[0])) - angle_deg) % 180
    return _ACROSS_DEG < off < 180 - _ACROSS_DEG


def joints_of(cover: Cover) -> Joints:
    """Before anything is cut: joints are kept off the zones of a ply book that say so."""
    return Joints(tuple(cover.zones[zone.name] for zone in cover.stack.zones if zone.no_joints))


def pieces_of(cover: Cover, cutting: Cutting) -> tuple[Piece, ...]:
    """The pieces of every ply, in laying order.

    Raises
    ------
    Refused
        If a ply is wider than the roll, and the overlap leaves nothing of it.

    >>> from kiteloom.core.laminate.cover import cover_of
    >>> wing = skin_of(PLANK, "upper")
    >>> found = pieces_of(cover_of(SANDWICH, wing), Cutting(0.6, overlap_m=0.05))
    >>> [piece.id for piece in found if piece.ply == 1]
    ['2a', '2b']
    """
    found: list[Piece] = []
    joints = joints_of(cover)
    for n, (ply, lies) in enumerate(zip(cover.stack.plies, cover.plies, strict=True)):
        found += cut_up(lies, n, f"{n + 1}", ply.angle_deg - ply.cloth.fibre_off_deg, cutting, joints)
        if len(found) > MOST_PIECES:
            width = plain(cutting.roll_width_m * 1000)
            raise Refused("roll_width_mm", f"a roll of {width} mm cuts it into more than {MOST_PIECES} pieces")
    return tuple(found)


def cut_up(
    lies: BaseGeometry, ply: int, name: str, angle_deg: float, cutting: Cutting, joints: Joints
) -> tuple[Piece, ...]:
    """What lies flat as pieces, each with its name and, where there are several, a letter; joints join those there are.

    Parameters
    ----------
    angle_deg : float
        How the warp or the grain runs in the part's axes [°].

    Raises
    ------
    Refused
        As `pieces_of` says.
    """
    grown = lies.buffer(cutting.trim_m, join_style="mitre", mitre_limit=2.0) if cutting.trim_m else lies
    cut = [piece for one in polygons_of(grown) for piece in _cut(one, angle_deg, cutting, joints)]
    if cutting.length_m is not None:
        along = Cutting(cutting.length_m, overlap_m=cutting.overlap_m)
        cut = [piece for one in cut for piece in _cut(one, angle_deg + 90, along, joints)]
    letters = _letters(len(cut)) if len(cut) > 1 else iter([""])
    return tuple(
        Piece(f"{name}{letter}", ply, _outline_mm(piece), angle_deg)
        for letter, piece in zip(letters, cut, strict=False)
    )


def face_up(piece: Piece, side: Side, hand: Hand) -> Piece:
    """A piece as it lies on the table, the face up that will be seen from outside: mirrored where the part's axes are.

    Woven cloth is the same on both faces; stitched cloth is not, and a piece of it must not be turned over.

    >>> corner = Piece("1", 0, ((0, 0), (100, 0), (0, 50)), 45)
    >>> face_up(corner, "upper", "left").outline_mm[2], face_up(corner, "upper", "right").outline_mm[2]
    ((0, -50), (0, 50))
    """
    if (side == "upper") != (hand == "left"):
        return piece
    return replace(piece, outline_mm=tuple((x, -y) for x, y in piece.outline_mm), angle_deg=-piece.angle_deg)


def _outline_mm(piece: Polygon) -> tuple[tuple[float, float], ...]:
    ring = orient(polygons_of(piece.simplify(_FINE_M))[0]).exterior.coords[:-1]
    return tuple((round(1000 * x, 3), round(1000 * y, 3)) for x, y in ring)


def _cut(grown: Polygon, angle_deg: float, cutting: Cutting, joints: Joints) -> Iterator[Polygon]:
    """One polygon cut into widths that fit the roll; its joints join those there are."""
    turned = rotate(grown, -angle_deg, origin=(0, 0))
    left, low, right, high = turned.bounds
    overlap, across = cutting.overlap_m, high - low
    if across <= cutting.roll_width_m + _FINE_M / 100:
        yield grown
        return
    fewest, each = _strips(across, cutting)
    free = joints.free(angle_deg, overlap)

    def lines(at: Sequence[float]) -> BaseGeometry:
        """The middles of joints where strips end at some heights, as they lie on the side."""
        middles = [LineString([(left, top - overlap / 2), (right, top - overlap / 2)]) for top in at]
        return rotate(intersection(union_all(middles), turned), angle_deg, origin=(0, 0))

    if cutting.pitch_m > 0:
        ends = [low + each + n * (each - overlap) for n in range(fewest - 1)]
    else:
        ends = _best(lines, low, across, fewest, cutting, joints, free)
    joints.there.append(lines(ends))
    joints.strayed += joints.there[-1].intersects(free)
    tops = [*ends, high]
    for n, top in enumerate(tops):
        strip = box(left - 1, low if n == 0 else tops[n - 1] - overlap, right + 1, top)
        for piece in polygons_of(intersection(turned, strip)):
            if piece.area > _FINE_M**2:
                yield rotate(piece, angle_deg, origin=(0, 0))


def _strips(across: float, cutting: Cutting) -> tuple[int, float]:
    """The fewest strips that make up a width, and how wide each is [m]; `Refused` where the roll allows none."""
    roll, overlap, pitch = cutting.roll_width_m, cutting.overlap_m, cutting.pitch_m
    if overlap >= roll:
        raise Refused(
            "overlap_mm",
            f"the overlap is {plain(overlap * 1000)} mm and the roll {plain(roll * 1000)} mm wide; "
            f"a ply {plain(round(across * 1000))} mm wide can't be made up of it",
        )
    if pitch > 0 and pitch + overlap > roll + _FINE_M:
        raise Refused(
            "pitch_mm",
            f"ribs {plain(pitch * 1000)} mm apart with an overlap of {plain(overlap * 1000)} mm are wider than "
            f"{plain(roll * 1000)} mm; no joint can lie on one",
        )
    # Far more strips than a book may have pieces need not be counted.
    if pitch > 0:
        each = math.floor((roll - overlap) / pitch + 1e-9) * pitch + overlap
        return min(math.ceil((across - overlap) / (each - overlap) - 1e-9), MOST_PIECES + 1), each
    count = min(math.ceil((across - overlap) / (roll - overlap) - 1e-9), MOST_PIECES + 1)
    return count, _evenly(across, count, overlap)


def _evenly(across: float, count: int, overlap: float) -> float:
    return (across + (count - 1) * overlap) / count


def _best(
    lines: Callable[[Sequence[float]], BaseGeometry],
    low: float,
    across: float,
    fewest: int,
    cutting: Cutting,
    joints: Joints,
    free: BaseGeometry,
) -> list[float]:
    """Where the strips of a ply end: off what joints are kept off, if need be with one strip more than the fewest; then
    as far from the joints of other plies as it matters; moved as little as that takes.
    """
    overlap, others = cutting.overlap_m, union_all(joints.there)
    found: list[float] = []
    best = (False, -1.0)
    for count in (fewest, fewest + 1):
        each = _evenly(across, count, overlap)
        most = cutting.roll_width_m - each
        for step in range(2 * _TRIES + 1):
            shift = most * ((step + 1) // 2) / _TRIES * (1 if step % 2 else -1)
            ends = [low + each + shift + n * (each - overlap) for n in range(count - 1)]
            laid = lines(ends)
            apart = min(laid.distance(others), STAGGER_M) if joints.there else STAGGER_M
            rank = (not laid.intersects(free), apart)
            if rank[0] > best[0] or (rank[0] == best[0] and rank[1] > best[1] + 1e-6):
                found, best = ends, rank
            if best == (True, STAGGER_M):
                return found
        if best[0]:
            break
    return found


def _letters(count: int) -> Iterator[str]:
    """a, b … z, aa, ab …: what the pieces of one ply are called."""
    for n in range(count):
        word, left = "", n + 1
        while left:
            left, letter = divmod(left - 1, 26)
            word = ascii_lowercase[letter] + word
        yield word
