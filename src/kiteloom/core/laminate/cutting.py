"""One way of cutting: off a roll or from sheets, how, and what it comes to in waste, grams and money."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from kiteloom.core.base.fields import Asked, made
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import parse
from kiteloom.core.laminate.layout import Layout, Sheets
from kiteloom.core.laminate.pieces import Cutting
from kiteloom.core.laminate.rolls import Roll

_SMALL: dict[str, Any] = {"dimension": "length", "unit": ("mm", "in")}
_LARGE: dict[str, Any] = {"dimension": "length", "unit": ("m", "in")}


@dataclass(frozen=True)
class OffRoll:
    """Cloth off a roll. What is laid over what is cut off later; the gap is what the shears want."""

    width_m: Annotated[float, Asked("Width of the roll", **_LARGE, low=0, high=10, open_low=True)]
    trim_m: Annotated[float, Asked("Trim all round", **_SMALL, low=0, high=0.5)] = 0.015
    overlap_m: Annotated[float, Asked("Overlap of a joint", **_SMALL, low=0, high=1)] = 0.05
    gap_m: Annotated[float, Asked("Gap between pieces", **_SMALL, low=0, high=0.5)] = 0.005
    left_m: Annotated[float | None, Asked("Left on the roll", **_LARGE, low=0, high=2000)] = None
    price: Annotated[str, Asked("Price of a metre", "words")] = ""
    quarter_turns: Annotated[bool, Asked("Quarter turns allowed", "yes")] = False
    remnants: Annotated[bool, Asked("From remnants first", "yes")] = True
    seconds: Annotated[int, Asked("Seconds to look", "count", low=0, high=600)] = 20

    def cutting(self) -> Cutting:
        """How its plies are cut."""
        return Cutting(self.width_m, self.trim_m, self.overlap_m)

    def new(self) -> Roll:
        """What its pieces are laid out on."""
        return Roll(1000 * self.width_m, 1000 * self.gap_m, self.quarter_turns)

    grain_deg = 0.0


@dataclass(frozen=True)
class FromSheets:
    """Foam, plywood or core from sheets, grain along their length."""

    length_m: Annotated[float, Asked("Length of a sheet", **_LARGE, low=0, high=20, open_low=True)]
    width_m: Annotated[float, Asked("Width of a sheet", **_LARGE, low=0, high=10, open_low=True)]
    grain: Annotated[str, Asked("Its length lies", "choice", choices=("along the part", "across the part"))] = (
        "along the part"
    )
    pitch_m: Annotated[float, Asked("Joints on ribs every", **_SMALL, low=0, high=5)] = 0.0
    trim_m: Annotated[float, Asked("Trim all round", **_SMALL, low=0, high=0.5)] = 0.0
    overlap_m: Annotated[float, Asked("Overlap of a joint", **_SMALL, low=0, high=1)] = 0.0
    gap_m: Annotated[float, Asked("Saw and gap", **_SMALL, low=0, high=0.5)] = 0.003
    price: Annotated[str, Asked("Price of a sheet", "words")] = ""
    quarter_turns: Annotated[bool, Asked("Quarter turns allowed", "yes")] = False
    remnants: Annotated[bool, Asked("From remnants first", "yes")] = True
    seconds: Annotated[int, Asked("Seconds to look", "count", low=0, high=600)] = 20

    def cutting(self) -> Cutting:
        """How what is cut from them is cut."""
        length, width = self.length_m - 2 * self.trim_m, self.width_m - 2 * self.trim_m
        if length <= 0 or width <= 0:
            raise Refused("trim_m", f"a trim of {self.trim_m * 1000:g} mm all round leaves nothing of the sheet")
        return Cutting(self.width_m, self.trim_m, self.overlap_m, self.length_m, self.pitch_m)

    def new(self) -> Sheets:
        """What its pieces are laid out on."""
        return Sheets(1000 * self.length_m, 1000 * self.width_m, 1000 * self.gap_m, self.quarter_turns)

    @property
    def grain_deg(self) -> float:
        """How the sheet's length lies in the part's axes [°]."""
        return 90.0 if self.grain == "across the part" else 0.0


Way = OffRoll | FromSheets

#: Which plies of a ply book are cut together.
Plies = Literal["all", "on the bias", "not on the bias"]
#: A ply is on the bias beyond this, counted from the span or from the chord [°].
_BIAS_DEG = 20.0


def taken(plies: str, angle_deg: float) -> bool:
    """Whether a ply at an angle is among those that are cut together.

    >>> taken("on the bias", -45), taken("on the bias", 90), taken("all", 0)
    (True, False, True)
    """
    off = abs(angle_deg) % 90
    bias = _BIAS_DEG < off < 90 - _BIAS_DEG
    return plies == "all" or bias == (plies == "on the bias")


def way_kind(kind: str) -> type[OffRoll] | type[FromSheets]:
    """How a product of a kind of data sheet is cut; `Refused` where it is not cut.

    >>> way_kind("cloth").__name__, way_kind("core").__name__
    ('OffRoll', 'FromSheets')
    """
    if kind in ("cloth", "cover cloth"):
        return OffRoll
    if kind in ("core", "sheet"):
        return FromSheets
    raise Refused("data_sheet_id", f"{kind} is not cut into pieces; cloth, core and sheets are")


def way_of(kind: str, sheet: Mapping[str, Any], says: Mapping[str, Any]) -> Way:
    """A way as it was kept, with what its data sheet says where nobody said otherwise.

    >>> way_of("cloth", {"roll_width_m": 1.27, "balanced": True}, {"gap_m": 0.01}).new()
    Roll(width_mm=1270.0, gap_mm=10.0, quarter_turns=True)
    """
    return made(way_kind(kind), {**sheet_says(kind, sheet), **says})


def sheet_says(kind: str, sheet: Mapping[str, Any]) -> dict[str, Any]:
    """What of a way a data sheet says."""
    if way_kind(kind) is OffRoll:
        turns = bool(sheet.get("balanced")) and not sheet.get("stitched")
        found = {"width_m": sheet.get("roll_width_m"), "quarter_turns": turns}
    else:
        size = sheet.get("size_m") or {}
        found = {"length_m": size.get("length"), "width_m": size.get("width")}
    return {name: value for name, value in found.items() if value is not None}


def sheet_g_m2(sheet: Mapping[str, Any]) -> float:
    """The weight of a product by its data sheet [g/m²]: of cloth as it says, of a sheet by thickness × density.

    >>> sheet_g_m2({"areal_weight_g_m2": 163}), sheet_g_m2({"thickness_mm": 6, "density_kg_m3": 75}), sheet_g_m2({})
    (163.0, 450.0, 0.0)
    """
    if sheet.get("areal_weight_g_m2"):
        return float(sheet["areal_weight_g_m2"])
    return float(sheet.get("thickness_mm") or 0) * float(sheet.get("density_kg_m3") or 0)


def along_mm(outline: Sequence[tuple[float, float]], angle_deg: float) -> float:
    """How long an outline is along a warp at that angle to it [mm].

    >>> round(along_mm(((0, 0), (1000, 0), (1000, 300), (0, 300)), 90), 6)
    300.0
    """
    turn = math.radians(angle_deg)
    along = [x * math.cos(turn) + y * math.sin(turn) for x, y in outline]
    return max(along) - min(along)


def price_of(text: str) -> tuple[float, str] | None:
    """A price as a number and what else stands with it; None where it says none.

    >>> price_of("9,80 EUR"), price_of("$ 12.50"), price_of("ask")
    ((9.8, 'EUR'), (12.5, '$'), None)
    """
    found = re.search(r"\d[\d.,]*", text)
    if found is None:
        return None
    beside = text[: found.start()] + text[found.end() :]
    return parse(found[0].rstrip(".,"), "number", "", "price"), beside.strip()


@dataclass(frozen=True)
class Worth:
    """What a way comes to: off the roll [m] or in sheets, grams of it bought and cut off, and money."""

    count: int
    run_m: float
    sheets: int
    taken_m2: float
    pieces_m2: float
    grams: float
    waste_g: float
    cost: float | None
    currency: str

    @property
    def waste_pct(self) -> float:
        """What of it is cut off [%]."""
        return 100 * (1 - self.pieces_m2 / self.taken_m2) if self.taken_m2 else 0.0


def worth_of(layout: Layout, way: Way, g_m2: float) -> Worth:
    """A layout in figures; what comes from remnants costs nothing and is no waste.

    Parameters
    ----------
    g_m2 : float
        What the cloth or the sheet weighs [g/m²].
    """
    taken = layout.new_mm2 / 1e6
    pieces = taken * layout.used_pct / 100 if taken else 0.0
    on_roll = isinstance(way, OffRoll)
    run = layout.run_mm / 1000 if on_roll else 0.0
    priced = price_of(way.price)
    cost = None if priced is None else priced[0] * (run if on_roll else layout.sheets)
    return Worth(
        len(layout.laid), run, layout.sheets, taken, pieces, taken * g_m2, (taken - pieces) * g_m2, cost,
        priced[1] if priced else "",
    )  # fmt: skip


def worth_figures(worth: Worth, way: Way, name: str, g_m2: float) -> tuple[Figure, ...]:
    """The same, each answering “from what?”."""
    weight = Given(f"weight of {name}", g_m2, "areal weight")
    taken, pieces = Given("taken", worth.taken_m2, "area"), Given("pieces", worth.pieces_m2, "area")
    found = [Figure("pieces", "Pieces", worth.count, "count", "every copy that is laid out", ())]
    if isinstance(way, OffRoll):
        width = Given("width of the roll", way.width_m, "length")
        found.append(Figure("run", "Off the roll", worth.run_m, "run", "to the end of the last piece", (width,)))
    else:
        size = (Given("length of a sheet", way.length_m, "length"), Given("width of a sheet", way.width_m, "length"))
        found.append(Figure("sheets", "Sheets", worth.sheets, "count", "those a piece lies on", size))
    found += [
        Figure("waste", "Cut off", worth.waste_pct, "share", "1 − pieces ÷ taken", (pieces, taken)),
        Figure("grams", "Weighs", worth.grams, "mass", "taken × its weight", (taken, weight)),
        Figure("waste_g", "Cut off weighs", worth.waste_g, "mass", "(taken − pieces) × its weight",
               (taken, pieces, weight)),
    ]  # fmt: skip
    if worth.cost is not None:
        price = Given(f"price as typed: {way.price}", (price_of(way.price) or (0.0, ""))[0], "money")
        what = (
            Given("off the roll", worth.run_m, "run")
            if isinstance(way, OffRoll)
            else Given("sheets", worth.sheets, "count")
        )
        found.append(Figure("cost", f"Costs{', ' + worth.currency if worth.currency else ''}", round(worth.cost, 2),
                            "money", "price × what is taken", (price, what)))  # fmt: skip
    return tuple(found)
