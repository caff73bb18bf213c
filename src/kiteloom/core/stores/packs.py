"""The packs a sheet names, and amounts of a product in the measure its lots are counted in."""

from __future__ import annotations

import re
from dataclasses import dataclass

from kiteloom.core.base.fields import Says
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import parse
from kiteloom.core.mix.exotherm import DENSITY_G_ML
from kiteloom.core.stores.lots import Measure, counted_in

_TIMES = re.compile(r"(\d+)\s*[×x*]\s*")
_AMOUNT = re.compile(r"\d[\d.,]*\s*(?:kg|g|lb|oz|l|ml|fl oz|gal|qt|m|cm|mm|ft|yd|in)\b")


@dataclass(frozen=True)
class PackSize:
    """A pack as its maker writes it, in the measure of the product's lots, and its price where the sheet says one."""

    words: str
    amount: float
    price: float | None = None


@dataclass(frozen=True)
class Weighs:
    """What turns amounts of a product into each other: by volume [g/ml], by area [g/m²], how wide its roll is [m], how
    large one sheet of it [m²].
    """

    g_ml: float = DENSITY_G_ML
    g_m2: float | None = None
    width_m: float | None = None
    sheet_m2: float | None = None


def weighs(kind: str, says: Says) -> Weighs:
    """How a product is weighed, by its sheet; None where that is silent.

    >>> weighs("cloth", {"areal_weight_g_m2": 280, "roll_width_m": 1.2}).g_m2
    280
    >>> weighs("core", {"thickness_mm": 10, "density_kg_m3": 60}).g_m2
    600
    """
    thick, dense = says.get("thickness_mm"), says.get("density_kg_m3")
    by_volume = dense / 1000 if dense and thick is None else says.get("resin_density_g_ml", DENSITY_G_ML)
    by_area = says.get("areal_weight_g_m2") or (thick * dense if thick and dense else None)
    size = says.get("size_m") or {}
    sheet = size["length"] * size["width"] if size.get("length") and size.get("width") else None
    width = says["width_mm"] / 1000 if kind == "tape" and says.get("width_mm") else says.get("roll_width_m")
    return Weighs(by_volume, by_area, width, sheet)


def in_measure(amount: float, what: str, measure: Measure, of: Weighs) -> float | None:
    """An amount in the measure a product's lots are counted in; None where its sheet does not say how.

    Parameters
    ----------
    what : str
        What the amount is in: ``"mass"`` [g], ``"volume"`` [ml], ``"area"`` [m²], ``"run"`` [m] or ``"count"``.

    >>> in_measure(2.0, "area", "mass", Weighs(g_m2=280)), in_measure(3.0, "area", "run", Weighs(width_m=1.5))
    (560.0, 2.0)
    """
    if what == measure:
        return amount
    if measure == "mass":
        if what == "volume":
            return amount * of.g_ml
        if what == "area":
            return amount * of.g_m2 if of.g_m2 else None
        if what == "run":
            return amount * of.width_m * of.g_m2 if of.width_m and of.g_m2 else None
    if measure == "run" and what == "area":
        return amount / of.width_m if of.width_m else None
    if measure == "count" and what == "area":
        return amount / of.sheet_m2 if of.sheet_m2 else None
    return None


def packs_of(kind: str, says: Says) -> tuple[PackSize, ...]:
    """The packs a sheet names, in the order it names them; what can't be read is left out.

    >>> [(pack.words, pack.amount, pack.price) for pack in packs_of("laminating resin",
    ...     {"packs": "1.28 kg, 2 × 0.5 kg", "price": "1.28 kg: 31"})]
    [('1.28 kg', 1280.0, 31.0), ('2 × 0.5 kg', 1000.0, None)]
    """
    measure, of = counted_in(says, kind), weighs(kind, says)
    prices = dict(_priced(str(says.get("price") or "")))
    found = []
    for words in _parts(str(says.get("packs") or "")):
        amount = _read(words, measure, of)
        if amount:
            found.append(PackSize(words, amount, prices.get(words)))
    if len(found) == 1 and found[0].price is None and "" in prices:
        found = [PackSize(found[0].words, found[0].amount, prices[""])]
    return tuple(found)


def _parts(text: str) -> list[str]:
    """What stands between commas; a comma inside a figure is not one."""
    return [part.strip() for part in re.split(r",(?!\d)|;", text) if part.strip()]


def _priced(text: str) -> list[tuple[str, float]]:
    found = []
    for part in _parts(text):
        words, _, price = part.rpartition(":")
        number = re.search(r"\d+(?:[.,]\d+)?", price)
        if number:
            found.append((words.strip(), float(number[0].replace(",", "."))))
    return found


def _read(words: str, measure: Measure, of: Weighs) -> float | None:
    times = _TIMES.match(words)
    many, rest = (int(times[1]), words[times.end() :]) if times else (1, words)
    if measure == "count":
        number = re.search(r"\d+", rest)
        return float(many * int(number[0])) if number else None
    size = _AMOUNT.search(rest)
    if size is None:
        return None
    for what, dimension, unit in (("mass", "mass", "g"), ("volume", "volume", "ml"), ("run", "length", "m")):
        try:
            amount = parse(size[0], dimension, unit)
        except Refused:
            continue
        made = in_measure(many * amount, what, measure, of)
        if made is not None:
            return made
    return None
