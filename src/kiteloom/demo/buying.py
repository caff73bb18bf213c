"""Who sells to the boathouse, what is on order, and the small parts that are not mixed. All invented."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from kiteloom.core.base.quantities import Typed
from kiteloom.core.stores.lots import counted_in
from kiteloom.core.stores.packs import in_measure, weighs
from kiteloom.core.stores.wares import Ware
from kiteloom.demo.week import working_day
from kiteloom.store.models import DataSheet, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.item_uses import UseItem, use_item
from kiteloom.workshop.log.orders import OrderPacks, TellOrder, order_packs, tell_order
from kiteloom.workshop.stores.buying import SayOffer, SaySupplier, say_offer, say_supplier
from kiteloom.workshop.stores.items import NoteItem, SayItem, note_item, say_item

#: Name, currency, what a parcel costs, and from which sum it is free.
FENSIDE, SLUICE, QUAY, LOWMOOR = "Fenside Composites", "Sluice Street Chandlers", "Quay Fasteners", "Lowmoor Cloth"
_SELLERS = (
    (FENSIDE, "EUR", 14.5, 400.0), (SLUICE, "EUR", 9.8, 250.0), (QUAY, "EUR", 6.9, None), (LOWMOOR, "GBP", 12.0, None)
)  # fmt: skip
#: Seller, product, the pack as they write it, how much that is of what, its price, days until it comes.
_OFFERS: tuple[tuple[str, str, str, float, str, float, int], ...] = (
    (FENSIDE, "Tarn 210 with 214 slow", "1.28 kg kit", 1280, "mass", 31.0, 9),
    (FENSIDE, "Tarn 210 with 214 slow", "6.4 kg kit", 6400, "mass", 118.0, 9),
    (FENSIDE, "Tarn 210 with 214 slow", "25.6 kg kit", 25600, "mass", 405.0, 12),
    (FENSIDE, "Sedge 163 twill glass", "10 m² piece", 10, "area", 46.0, 5),
    (FENSIDE, "Sedge 163 twill glass", "50 m² roll", 50, "area", 198.0, 5),
    (FENSIDE, "Sedge 280 twill glass", "10 m² piece", 10, "area", 58.0, 5),
    (FENSIDE, "Rush 200 one-way carbon", "5 m² piece", 5, "area", 132.0, 8),
    (FENSIDE, "Bulrush 60, 6 mm foam", "sheet, 3 m²", 3, "area", 39.0, 7),
    (FENSIDE, "Bulrush 75, 8 mm foam", "sheet, 3 m²", 3, "area", 47.0, 7),
    (FENSIDE, "Heron 30 paste", "2 × 0.5 kg", 1000, "mass", 38.0, 7),
    (FENSIDE, "Heron 35 fairing paste", "2 × 5 kg", 10000, "mass", 142.0, 7),
    (FENSIDE, "Heron 35 fairing paste", "2 × 0.5 kg", 1000, "mass", 21.0, 7),
    (FENSIDE, "Moth peel ply", "25 m roll", 25, "run", 61.0, 4),
    (FENSIDE, "Moth bag film", "25 m roll", 25, "run", 44.0, 4),
    (FENSIDE, "Moth sealant tape", "box of 10 rolls", 150, "run", 69.0, 4),
    (SLUICE, "Moth sealant tape", "15 m roll", 15, "run", 8.2, 2),
    (SLUICE, "Moth gloves", "50 pairs", 50, "count", 12.5, 2),
    (FENSIDE, "Moth gloves", "500 pairs", 500, "count", 95.0, 4),
    (SLUICE, "Sallow varnish", "2.5 l kit", 2500, "volume", 54.0, 6),
    (SLUICE, "Sallow primer", "2.5 l kit", 2500, "volume", 49.0, 6),
    (SLUICE, "Sallow enamel", "1 l kit", 1000, "volume", 32.0, 6),
    (SLUICE, "Birch plywood 1.5 mm", "sheet 1.22 m square", 1, "count", 36.0, 10),
    (LOWMOOR, "Linden 92, cream", "20 m piece", 20, "run", 246.0, 10),
    (LOWMOOR, "Linden 70, plain", "5 m piece", 5, "run", 48.0, 10),
    (LOWMOOR, "Linden edge tape", "50 m roll", 50, "run", 29.0, 10),
    (LOWMOOR, "Rush heat-set adhesive", "1 l", 1000, "volume", 44.0, 10),
    (LOWMOOR, "Rush covering cement", "1 l", 1000, "volume", 38.0, 10),
    (LOWMOOR, "Rush clear coat", "1 l", 1000, "volume", 27.0, 10),
    (LOWMOOR, "Rush silver block", "1 l", 1000, "volume", 31.0, 10),
)


#: Product, pack, how many, ordered and come so many working days ago, and the number on the label.
_CAME = (
    ("Moth gloves", "50 pairs", 2, 9, 4, "G-2231"),
    ("Sedge 163 twill glass", "50 m² roll", 1, 12, 6, "S163-77"),
    ("Sedge 280 twill glass", "10 m² piece", 1, 12, 6, "S280-41"),
    ("Bulrush 60, 6 mm foam", "sheet, 3 m²", 5, 12, 6, "BL60-9"),
    ("Bulrush 75, 8 mm foam", "sheet, 3 m²", 2, 12, 6, "BL75-4"),
    ("Rush 200 one-way carbon", "5 m² piece", 1, 12, 6, "RC-12"),
    ("Moth sealant tape", "15 m roll", 12, 9, 4, "T-118"),
    ("Moth peel ply", "25 m roll", 1, 12, 6, "PP-30"),
    ("Moth bag film", "25 m roll", 1, 12, 6, "BF-15"),
    ("Linden 70, plain", "5 m piece", 1, 12, 3, "L70-2"),
)


@dataclass(frozen=True)
class Small:
    """A small part: what it looks like, which steps take how many, through what [mm], and its pack."""

    name: str
    number: str
    looks: dict[str, str]
    uses: tuple[tuple[str, str, int, float | None], ...]
    pack: int
    price: float
    days: int
    kit: str = ""
    listed: int | None = None
    place: str = "Blue cabinet, drawer 2"


_KIT = "Nose fittings"
_BOX = "Box under the bench"
_SMALL = (
    Small("Rod end", "RE-5", {"thread": "M5", "hand": "right"},
          (("Left inner bracket on the spar", "bond", 1, None), ("Left hinge arm on rib 3", "bond", 1, None)),
          1, 11.8, 8),
    Small("Bolt for the hinge arm", "B5-25", {"thread": "M5", "length_mm": "25"},
          (("Left hinge arm on rib 3", "bond", 4, 15.0),), 10, 6.4, 5),
    Small("Stop nut", "N5", {"thread": "M5"}, (("Left hinge arm on rib 3", "bond", 4, None),), 25, 4.1, 5),
    Small("Bush", "BU-8", {"size": "8 × 10 × 12"}, (("Left bush in rib 1", "bond", 1, None),), 2, 7.2, 9,
          _KIT, 4, _BOX),
    Small("Nose bracket", "NB-L", {"hand": "left"}, (("Left outer bracket on the spar", "bond", 1, None),), 1, 48.0, 20,
          _KIT, 2, _BOX),
    Small("Nose bracket, right", "NB-R", {"hand": "right"}, (), 1, 48.0, 20, _KIT, 2, _BOX),
    Small("Drag tube sleeve", "DS-40", {"size": "40 mm"}, (), 1, 29.0, 20, _KIT, 2, _BOX),
)  # fmt: skip


def sells_and_orders(uow: UnitOfWork, now: datetime) -> None:
    """Sellers and their packs, small parts and which steps take them, and orders of the last two weeks."""
    past = working_day(now, 12, "10:00")
    for name, currency, postage, free in _SELLERS:
        free_from = Typed(f"{free:g}", "") if free is not None else None
        say_supplier(uow, SaySupplier(_seller(name), 0, name, currency, Typed(f"{postage:g}", ""), free_from), past)
    sheets = {sheet.name: sheet for sheet in uow.all(DataSheet)}
    units = {"mass": "g", "run": "m", "count": ""}
    for seller, product, words, amount, what, price, days in _OFFERS:
        sheet = sheets[product]
        measure = counted_in(sheet.says, sheet.kind)
        held = in_measure(amount, what, measure, weighs(sheet.kind, sheet.says))
        assert held is not None, product
        say_offer(uow, SayOffer(_offer(product, words), 0, _seller(seller), Ware("sheet", sheet.id).key, words,
                                Typed(f"{held:.6g}", units[measure]), Typed(f"{price:g}", ""), days), past)  # fmt: skip
    parts = {part.name: part.id for part in uow.all(Part)}
    for small in _SMALL:
        _small(uow, small, parts, past)
    imre = stable_id("crew", "Imre")
    for product, words, packs, ordered, came, lot in _CAME:
        _order(uow, now, _offer(product, words), packs, ordered, 7)
        said = TellOrder("", "received", packs, crew_member_id=imre, lot_number=lot)
        _tell(uow, now, _offer(product, words), came, said)
    _order(uow, now, _offer("Rod end", "single piece"), 2, 3, 9)
    _order(uow, now, _offer("Bolt for the hinge arm", "10 pieces"), 1, 8, 2)
    wrong = TellOrder("", "wrong", 1, note="they are 20 mm long", crew_member_id=imre)
    _tell(uow, now, _offer("Bolt for the hinge arm", "10 pieces"), 1, wrong)
    _order(uow, now, _offer("Heron 35 fairing paste", "2 × 5 kg"), 1, 2, 8)


def _seller(name: str) -> str:
    return stable_id("seller", name)


def _offer(product: str, words: str) -> str:
    return stable_id("offer", product, words)


def _small(uow: UnitOfWork, small: Small, parts: dict[str, str], at: datetime) -> None:
    key = stable_id("item", small.name)
    say_item(uow, SayItem(key, 0, small.name, small.number, small.looks, small.kit, small.listed,
                          place=small.place), at)  # fmt: skip
    words = "single piece" if small.pack == 1 else f"{small.pack} pieces"
    say_offer(uow, SayOffer(_offer(small.name, words), 0, _seller(QUAY), Ware("item", key).key, words,
                            Typed(str(small.pack), ""), Typed(f"{small.price:g}", ""), small.days), at)  # fmt: skip
    for part, step, count, stack in small.uses:
        through = Typed(f"{stack:g}", "mm") if stack is not None else None
        use_item(uow, UseItem(stable_id("use", small.name, part), key, parts[part], step, count, through), at)
    if small.kit and small.name != "Drag tube sleeve":
        kind, found = ("missing", 1) if small.number == "NB-L" else ("found", small.listed or 0)
        if kind == "missing":
            note_item(uow, key, NoteItem(stable_id("kit", small.name, "there"), "found", 1), None, at)
        note_item(uow, key, NoteItem(stable_id("kit", small.name), kind, found), None, at)


def _order(uow: UnitOfWork, now: datetime, offer: str, packs: int, ago: int, days: int) -> None:
    at = working_day(now, ago, "11:30")
    order_packs(uow, OrderPacks(stable_id("order", offer), offer, packs, True, (at + timedelta(days=days)).date()), at)


def _tell(uow: UnitOfWork, now: datetime, offer: str, ago: int, said: TellOrder) -> None:
    line = stable_id("order", offer)
    order = replace(said, id=stable_id("came", line), sure=True)
    tell_order(uow, line, order, (), working_day(now, ago, "15:10"))
