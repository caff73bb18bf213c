"""A mix thickened with a filler, for a volume."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.mix.filled import USES, Powder, filled, powder_for, speaks_against_use
from kiteloom.core.stores.reading import mixed_density
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.stores.sheets import resin_of
from kiteloom.workshop.stores.shelf import on_shelf


@dataclass(frozen=True)
class PowderChoice:
    """A filler on the shelf: its use, and the consistencies its sheet gives."""

    id: str
    name: str
    use: str
    consistencies: list[str]


@dataclass(frozen=True)
class FilledView:
    """A filled mix: grams of mix and of filler for the wanted volume, and what is asked about it."""

    mix_g: float
    filler_g: float
    density_g_ml: float
    sentence: str
    question: str
    figure: Figure


def powders(uow: UnitOfWork) -> list[PowderChoice]:
    """The fillers that can be computed with."""
    found = []
    for sheet in on_shelf(uow):
        if sheet.kind == "filler powder" and sheet.says.get("true_density_g_ml") and sheet.says.get("use"):
            found.append(PowderChoice(sheet.id, sheet.name, sheet.says["use"], list(sheet.says.get("parts", {}))))
    return found


@dataclass(frozen=True)
class FillerToGo:
    """How much of a filler a poured mix takes [g], and that in words."""

    powder_id: str
    consistency: str
    grams: float
    words: str


def filler_to_go(uow: UnitOfWork, powder_id: str, consistency: str, mix_g: float) -> FillerToGo:
    """The filler for what was really poured."""
    powder = _powder(uow, powder_id)
    grams = powder_for(powder, consistency, mix_g)
    words = f"Now stir in {show(grams, 'scale', units_of(uow))} of {powder.name}, until it is like {consistency}."
    return FillerToGo(powder_id, consistency, grams, words)


@dataclass(frozen=True)
class Thicken:
    """What is to be filled, with which filler, for what."""

    sheet_id: str
    powder_id: str
    use: str
    consistency: str
    volume: Typed


def thicken(uow: UnitOfWork, order: Thicken) -> FilledView:
    """A filled mix for a volume; nothing is kept."""
    sheet, consistency = uow.get(DataSheet, order.sheet_id), order.consistency
    powder = _powder(uow, order.powder_id)
    question = speaks_against_use(powder, order.use)
    parts = resin_of(sheet).mix
    known = parts.resin_density_g_ml is not None and parts.hardener_density_g_ml is not None
    mixed = mixed_density(parts)
    units = units_of(uow)
    wanted = order.volume.read("volume", "volume")
    found = filled(powder, consistency, wanted, mixed)
    mix, grams = (show(g, "scale", units) for g in (found.mix_g, found.filler_g))
    given = (
        Given("wanted volume", wanted, "volume"),
        Given(f"parts of {powder.name} per 100 of mix, {consistency}", powder.parts[consistency]),
        Given("density of its particles", 1000 * powder.true_density_g_ml, "density"),
        Given("density of the mix", 1000 * mixed, "density", not known),
    )
    figure = Figure(
        "filled_mix",
        "Mix to thicken",
        found.mix_g,
        "scale",
        "volume ÷ (1 ÷ density of the mix + parts ÷ 100 ÷ density of the particles)",
        given,
        "Volumes add up; air stirred in is left out.",
    )
    sentence = (
        f"{mix} of mix and {grams} of {powder.name}, like {consistency}: "
        f"{show(wanted, 'volume', units)} of {found.density_g_ml:.2f} g/ml."
    )
    return FilledView(found.mix_g, found.filler_g, found.density_g_ml, sentence, question, figure)


def _powder(uow: UnitOfWork, powder_id: str) -> Powder:
    """A filler by its sheet; `Refused` when it is none, or its sheet does not say enough."""
    filler = uow.get(DataSheet, powder_id)
    if filler.kind != "filler powder":
        raise Refused("powder_id", f"{filler.name} is not a filler powder")
    density = filler.says.get("true_density_g_ml")
    if density is None or filler.says.get("use") not in USES:
        raise Refused("powder_id", f"the sheet of {filler.name} gives no density of its particles, or no use")
    return Powder(filler.name, filler.says["use"], density, dict(filler.says.get("parts", {})))
