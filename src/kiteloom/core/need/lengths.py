"""Lengths out of stock lengths: fewest are bought, then the longest remnant is left; what is longer is scarfed.

Lengths on the shelf are used first. One length after the other is filled, round the longest piece that is left; whether
fewer would do is looked for by branch and bound: small lists are exact, long ones say how few there could be.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from kiteloom.core.base.problems import Refused, between

#: Nothing is sawn finer: lengths count in tenths of a millimetre.
_TENTHS = 10_000
#: A search looks at so many fillings at most; beyond that it says what it could not prove.
MOST_LOOKS = 30_000
#: So many pieces and lengths of stock a list may have.
MOST_PIECES, MOST_STOCK = 400, 60
#: Spar wood and plywood are scarfed at 10 to 1 to 12 to 1 (AC 43.13-1B ch. 1, from memory) [-].
LEAST_SCARF, MOST_SCARF = 10.0, 12.0


@dataclass(frozen=True)
class Wanted:
    """So many pieces of a length [m]."""

    name: str
    length_m: float
    count: int = 1


@dataclass(frozen=True)
class Bar:
    """One length of stock and what is sawn from it, in order [m]; ``bought`` where it is not from the shelf."""

    length_m: float
    bought: bool
    pieces: tuple[tuple[str, float], ...]
    left_m: float


@dataclass(frozen=True)
class CutList:
    """What is sawn from what; ``least`` is how few must be bought at least, ``proven`` whether fewer can't be."""

    bars: tuple[Bar, ...]
    least: int
    proven: bool

    @property
    def bought(self) -> int:
        """How many lengths are bought."""
        return sum(bar.bought for bar in self.bars)

    @property
    def longest_left_m(self) -> float:
        """The longest remnant [m]."""
        return max((bar.left_m for bar in self.bars), default=0.0)

    @property
    def waste_pct(self) -> float:
        """What of all that is sawn up is not a piece, without the longest remnant [%]."""
        whole = sum(bar.length_m for bar in self.bars) - self.longest_left_m
        used = sum(length for bar in self.bars for _, length in bar.pieces)
        return 100 * (1 - used / whole) if whole > 0 else 0.0


def scarfed(length_m: float, stock_m: float, overlap_m: float, keep_off: tuple[float, float] | None) -> list[float]:
    """Where the scarfs of a piece longer than its stock begin: as few as can be, evenly, none where none may be.

    Parameters
    ----------
    overlap_m : float
        How long one scarf is: 10 to 12 times as long as the wood is thick [m].
    keep_off : (from, to) or None
        No part of a scarf lies between [m].

    Raises
    ------
    Refused
        If no scarfs fit so.

    >>> scarfed(3.0, 2.4, 0.2, None), scarfed(3.0, 2.4, 0.2, (1.2, 1.8)), scarfed(2.0, 2.4, 0.2, None)
    ([1.4], [1.0], [])
    """
    if length_m <= stock_m + 1e-9:
        return []
    if overlap_m >= stock_m:
        raise Refused("stock_m", f"stock of {stock_m:g} m is shorter than its own scarf of {overlap_m:g} m")
    fewest = math.ceil((length_m - overlap_m) / (stock_m - overlap_m) - 1e-9)
    for count in (fewest, fewest + 1):
        each = (length_m + (count - 1) * overlap_m) / count
        at = [n * (each - overlap_m) for n in range(1, count)]
        moved = [_off(one, overlap_m, keep_off, (length_m - overlap_m, stock_m)) for one in at]
        segments = segments_of(length_m, moved, overlap_m)
        if all(2 * overlap_m <= one <= stock_m + 1e-9 for one in segments):
            return [round(one, 6) for one in moved]
    raise Refused(
        "stock_m", f"a piece of {length_m:g} m can't be scarfed from {stock_m:g} m: no scarf lies where it may"
    )


def _off(at: float, overlap: float, keep_off: tuple[float, float] | None, ends: tuple[float, float]) -> float:
    if keep_off is None or at + overlap <= keep_off[0] or at >= keep_off[1]:
        return at
    before, after = keep_off[0] - overlap, keep_off[1]
    fits = [one for one in (before, after) if 0 < one <= ends[0]]
    # Equally far both ways, the one nearer to the root is taken: the order of the list decides.
    return min(fits, key=lambda one: round(abs(one - at), 6), default=at)


def segments_of(length_m: float, scarfs: Sequence[float], overlap_m: float) -> list[float]:
    """The lengths that make up a scarfed piece [m].

    >>> segments_of(3.0, [1.4], 0.2)
    [1.6, 1.6]
    """
    starts, ends = [0.0, *scarfs], [*(one + overlap_m for one in scarfs), length_m]
    return [round(end - start, 6) for start, end in zip(starts, ends, strict=True)]


def cut_list(pieces: Sequence[Wanted], stock_m: float, shelf: Sequence[float] = (), saw_m: float = 0.003) -> CutList:
    """How pieces are sawn from lengths on the shelf and from those that are bought.

    Parameters
    ----------
    stock_m : float
        How long a length is that is bought [m].
    shelf : sequence of float
        Lengths that are there [m].
    saw_m : float
        What the saw takes between two pieces [m].

    Raises
    ------
    Refused
        If a piece is longer than any length, or a figure is out of bounds.

    >>> found = cut_list([Wanted("cap", 1.3, 3), Wanted("post", 0.8, 3)], 2.4)
    >>> found.bought, [round(bar.left_m, 3) for bar in found.bars]
    (3, [0.294, 0.294, 0.294])
    """
    between("stock_m", stock_m, 0.05, 30, unit="m", name="a length of stock")
    between("saw_m", saw_m, 0, 0.02, unit="m", name="the saw")
    count = sum(one.count for one in pieces)
    if count > MOST_PIECES:
        raise Refused("pieces", f"there are {count} pieces; at most {MOST_PIECES} are sawn by one list")
    if len(shelf) > MOST_STOCK:
        raise Refused("shelf", f"there are {len(shelf)} lengths on the shelf; at most {MOST_STOCK} are looked at")
    for one in pieces:
        between("length_m", one.length_m, 0, 60, unit="m", name=f"the length of “{one.name}”", open_low=True)
        longest = max((stock_m, *shelf))
        if one.length_m > longest + 1e-9:
            words = f"“{one.name}” is {one.length_m:g} m long, and the longest stock {longest:g} m"
            raise Refused("stock_m", f"{words}: scarf it, or take longer stock")
    saw = round(saw_m * _TENTHS)
    names: dict[int, list[str]] = {}
    for one in pieces:
        names.setdefault(round(one.length_m * _TENTHS) + saw, []).extend([one.name] * one.count)
    sizes = tuple(sorted((size for size, called in names.items() for _ in called), reverse=True))
    there = tuple(sorted((round(one * _TENTHS) + saw for one in shelf), reverse=True))
    whole = round(stock_m * _TENTHS) + saw
    search = _Search(whole)
    filled = search.fewest(sizes, there)
    bought = sum(bar.bought for bar in filled)
    if bought and search.looks < MOST_LOOKS:
        filled = search.longest_left(sizes, there, bought, filled)
    bars = []
    for bar in sorted(filled, key=lambda bar: (bar.bought, bar.size - sum(bar.sizes))):
        mine = [(names[size].pop(0), (size - saw) / _TENTHS) for size in bar.sizes]
        left = max(bar.size - sum(bar.sizes) - saw, 0) if bar.size > sum(bar.sizes) else 0
        bars.append(Bar((bar.size - saw) / _TENTHS, bar.bought, tuple(mine), left / _TENTHS))
    least = search.bound(sizes, there)
    return CutList(
        tuple(bars), least if search.looks >= MOST_LOOKS else bought, search.looks < MOST_LOOKS or bought <= least
    )


@dataclass(frozen=True)
class _Filled:
    size: int
    bought: bool
    sizes: tuple[int, ...]


class _Search:
    """Branch and bound over lengths filled one after the other; sizes count the saw with each piece."""

    def __init__(self, whole: int) -> None:
        self.whole, self.looks = whole, 0

    def bound(self, sizes: Sequence[int], there: Sequence[int]) -> int:
        """How many must be bought at least: what the shelf can't hold, and pieces of which no two share a length."""
        rest = sum(sizes) - sum(there)
        large = sum(2 * size > self.whole for size in sizes) - sum(1 for one in there if 2 * one > self.whole)
        shelf_pairs = sum(one // (self.whole // 2 + 1) for one in there)
        return max(math.ceil(rest / self.whole), min(large, sum(2 * s > self.whole for s in sizes) - shelf_pairs), 0)

    def fewest(self, sizes: tuple[int, ...], there: tuple[int, ...]) -> list[_Filled]:
        """The fewest lengths bought; the shelf first."""
        best = self._greedy(sizes, there)
        least = self.bound(sizes, there)
        while (bought := sum(bar.bought for bar in best)) > least and self.looks < MOST_LOOKS:
            found = self._fits(sizes, there, bought - 1)
            if found is None:
                break
            best = found
        return best

    def longest_left(
        self, sizes: tuple[int, ...], there: tuple[int, ...], bought: int, best: list[_Filled]
    ) -> list[_Filled]:
        """With as few bought, the one that leaves the longest remnant: as short a last length as will do."""
        low, high = 0, min(bar.size - (bar.size - sum(bar.sizes)) for bar in best if bar.bought)
        while low < high and self.looks < MOST_LOOKS:
            middle = (low + high) // 2
            found = self._fits(sizes, (*there, -middle), bought - 1) if middle else None
            if found is None:
                low = middle + 1
            else:
                best = [replace(bar, size=self.whole, bought=True) if bar.size < 0 else bar for bar in found]
                high = min(sum(bar.sizes) for bar in best if bar.bought)
        return best

    def _greedy(self, sizes: Sequence[int], there: Sequence[int]) -> list[_Filled]:
        """Each piece, the longest first, where the least is left beside it."""
        bars: list[tuple[int, bool, list[int]]] = [(one, False, []) for one in there]
        for size in sizes:
            room = [bar for bar in bars if bar[0] - sum(bar[2]) >= size]
            if not room:
                bars.append((self.whole, True, []))
                room = bars[-1:]
            min(room, key=lambda bar: (bar[1], bar[0] - sum(bar[2])))[2].append(size)
        return [_Filled(size, bought, tuple(mine)) for size, bought, mine in bars if mine]

    def _fits(self, sizes: tuple[int, ...], there: tuple[int, ...], most: int) -> list[_Filled] | None:
        """A way with no more than ``most`` bought; None where there is none, or it was not found in time.

        A length below 0 is one whose size counts without its sign: the last of those that are bought.
        """
        self.looks += 1
        if not sizes:
            return []
        if self.looks >= MOST_LOOKS or sum(sizes) > sum(abs(one) for one in there) + most * self.whole:
            return None
        first, rest = sizes[0], sizes[1:]
        places = sorted({one for one in there if abs(one) >= first}, key=abs)
        for place in (*places, *((self.whole,) if most and self.whole >= first else ())):
            new = place == self.whole and place not in places
            for beside in _fillings(rest, abs(place) - first):
                left = list(rest)
                for size in beside:
                    left.remove(size)
                shelf = list(there)
                if not new:
                    shelf.remove(place)
                found = self._fits(tuple(left), tuple(shelf), most - new)
                if found is not None:
                    return [_Filled(place, new, (first, *beside)), *found]
                if self.looks >= MOST_LOOKS:
                    return None
        return None


def _fillings(sizes: Sequence[int], room: int) -> Iterator[tuple[int, ...]]:
    """What may lie beside the first piece of a length: each choice that can't be added to, the fullest first."""
    counts = Counter(sizes)
    kinds = sorted(counts, reverse=True)
    found: list[tuple[int, ...]] = []

    def fill(n: int, room: int, chosen: tuple[int, ...], skipped: int) -> None:
        if len(found) >= 2000:
            return
        if n == len(kinds):
            # Nothing that was passed over would still fit: else the fuller choice is the same or better.
            if skipped > room:
                found.append(chosen)
            return
        size = kinds[n]
        most = min(counts[size], room // size)
        for count in range(most, -1, -1):
            passed = min(skipped, size) if count < counts[size] else skipped
            fill(n + 1, room - count * size, (*chosen, *([size] * count)), passed)

    fill(0, room, (), 1 << 60)
    yield from sorted(found, key=sum, reverse=True)
