"""Labelled fields: what is asked, in which unit, between which limits; as text, and read back.

One mechanism behind data sheets, recipes and losses: the form on the screen, the limits and the
sentence of a refusal all follow from one line beside the field.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from dataclasses import MISSING, dataclass
from functools import cache
from typing import Annotated, Any, Literal, TypeVar, get_args, get_origin, get_type_hints

from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import Typed, UnitSystem, parse, system_of, unit

#: What is kept or sent under names: a data sheet, a section, what a recipe is given.
Says = Mapping[str, Any]
Style = Literal["quantity", "count", "words", "choice", "yes", "ratio", "range", "list"]
T = TypeVar("T")


@dataclass(frozen=True)
class Asked:
    """One thing that is asked.

    Parameters
    ----------
    label : str
        What the builder calls it.
    style : str
        How it is typed; a ``count`` is a whole number.
    dimension, scale, unit : str, float, (str, str)
        How text is read: base unit of the dimension ÷ scale is what is kept; ``unit`` is what a
        bare number is meant in, metric and US.
    low, high : float or None
        Its limits, in the unit it is kept in; ``open_low`` when the low one itself is out.
    """

    label: str
    style: Style = "quantity"
    dimension: str = "number"
    scale: float = 1.0
    unit: tuple[str, str] = ("", "")
    choices: tuple[str, ...] = ()
    low: float | None = None
    high: float | None = None
    open_low: bool = False

    def unit_for(self, units: UnitSystem) -> str:
        """What a bare number is meant in.

        >>> Asked("Width", dimension="length", unit=("mm", "in")).unit_for("us")
        'in'
        """
        return self.unit[1 if system_of(units) == "us" else 0]

    def text(self, value: Any, units: UnitSystem = "metric", digits: int = 6) -> str:
        """A kept value as it is typed, with so many digits at most.

        >>> width = Asked("Width", dimension="length", unit=("mm", "in"))
        >>> width.text(0.07), width.text(0.07, "us"), width.text(0.07, "us", digits=3)
        ('70 mm', '2.75591 in', '2.76 in')
        """
        if self.style == "list":
            return "; ".join(value)
        if self.style == "yes":
            return "yes" if value else "no"
        if self.style in ("words", "choice"):
            return str(value)
        if self.style == "count":
            return str(int(value))
        return number_text(value * self.scale, self.dimension, self.unit_for(units), digits)

    def value(self, field: str, text: str, units: UnitSystem = "metric") -> Any:
        """What was typed, as it is kept; `Refused` names the field, what was typed and the limit.

        >>> Asked("Width", dimension="length", unit=("mm", "in")).value("width_m", "2 3/4 in")
        0.06985
        """
        if self.style == "list":
            return [item.strip() for item in text.split(";") if item.strip()]
        if self.style == "yes":
            return text.strip().lower() in ("yes", "true", "1", "ja", "y")
        if self.style == "choice":
            return self.within(field, text.strip())
        if self.style == "words":
            return text.strip()[:200]
        symbol = self.unit_for(units)
        return self.within(field, parse(text, self.dimension, symbol, field) / self.scale, symbol)

    def meant(self, field: str, typed: Typed, units: UnitSystem = "metric") -> Any:
        """A quantity typed with the unit a bare number of it was meant in, as it is kept.

        >>> Asked("Width", dimension="length", unit=("mm", "in"), high=0.1).meant("width_m", Typed("5", "in"))
        Traceback (most recent call last):
        kiteloom.core.base.problems.Refused: Width is 5 in; it can't be above 3.93701 in
        """
        said = Typed(typed.text, typed.unit or self.unit_for(units))
        return self.within(field, said.read(self.dimension, field) / self.scale, said.unit)

    def within(self, field: str, value: Any, symbol: str = "") -> Any:
        """A value within its limits and of its choices; else `Refused`, said in some unit, or its metric one.

        >>> Asked("Coats", "count", low=1, high=2).within("coats", 3)
        Traceback (most recent call last):
        kiteloom.core.base.problems.Refused: Coats is 3; it can't be above 2
        """
        if self.style == "choice" and value not in self.choices:
            raise Refused(field, f"“{str(value)[:60]}” is not one of {', '.join(self.choices)}")
        if self.style not in ("quantity", "count"):
            return value
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            raise Refused(field, f"{self.label} is “{str(value)[:40]}”; a number is wanted")
        low, high = (limit if limit is not None else wide for limit, wide in ((self.low, -1e300), (self.high, 1e300)))
        symbol = symbol if symbol and unit(symbol, self.dimension) else self.unit[0]
        used = unit(symbol, self.dimension) if symbol and self.style != "count" else None

        def shown(kept: float) -> float:
            return kept if used is None else (kept * self.scale - used.offset) / used.factor

        between(
            field,
            shown(value),
            shown(low),
            shown(high),
            unit="" if self.style == "count" else symbol,
            name=self.label,
            open_low=self.open_low,
        )
        if self.style == "count":
            if value != int(value):
                raise Refused(field, f"{self.label} is {plain(value)}; a whole number is wanted")
            return int(value)
        return value


def number_text(base: float, dimension: str, symbol: str, digits: int = 6) -> str:
    """A quantity in a unit of its dimension, with as many digits as it has, or so many at most.

    >>> number_text(0.00635, "length", "in")
    '0.25 in'
    """
    used = unit(symbol, dimension)
    assert used is not None
    return f"{(base - used.offset) / used.factor:.{digits}g} {used.symbol}".strip()


@cache
def asked_of(given: type[Any]) -> Mapping[str, tuple[Asked, Any]]:
    """The fields of a frozen dataclass that say what they ask, and their defaults (MISSING without one).

    >>> @dataclass(frozen=True)
    ... class Given:
    ...     coats: Annotated[int, Asked("Coats", "count", low=1, high=2)] = 2
    >>> asked_of(Given)["coats"][0].label, asked_of(Given)["coats"][1]
    ('Coats', 2)
    """
    hints = get_type_hints(given, include_extras=True)
    found = {}
    for field in dataclasses.fields(given):
        hint = hints[field.name]
        asked = next((a for a in get_args(hint)[1:] if isinstance(a, Asked)), None) if _annotated(hint) else None
        if asked is None:
            raise TypeError(f"{given.__name__}.{field.name} does not say what it asks")
        found[field.name] = (asked, field.default)
    return found


def _annotated(hint: Any) -> bool:
    return get_origin(hint) is Annotated


def made(given: type[T], says: Says) -> T:
    """What was kept as the dataclass that asked for it, every value within its limits.

    Names it does not ask for are left out; `Refused` for one that is missing and has no default.

    >>> @dataclass(frozen=True)
    ... class Given:
    ...     coats: Annotated[int, Asked("Coats", "count", low=1, high=2)] = 2
    >>> made(Given, {}), made(Given, {"coats": 1, "colour": "grey"})
    (Given(coats=2), Given(coats=1))
    """
    values = {}
    for name, (asked, default) in asked_of(given).items():  # type: ignore[arg-type]  # a type is hashable
        value = says.get(name)
        if value is None:
            if default is MISSING:
                raise Refused(name, f"{asked.label} is not given yet")
            continue
        values[name] = asked.within(name, value)
    return given(**values)


def missing(given: type, says: Says) -> list[str]:
    """The labels of what is asked, has no default, and was not given.

    >>> from kiteloom.core.build.recipes import recipe_of
    >>> missing(recipe_of("cap").given, {"length_m": 6.0})
    ['Width of the cap']
    """
    return [
        asked.label
        for name, (asked, default) in asked_of(given).items()
        if default is MISSING and says.get(name) is None
    ]


def read(given: type, texts: Mapping[str, str], units: UnitSystem = "metric") -> dict[str, Any]:
    """What was typed, by field, as it is kept; an empty text of a field with a default is left out.

    >>> @dataclass(frozen=True)
    ... class Given:
    ...     width_m: Annotated[float, Asked("Width", dimension="length", unit=("mm", "in"), low=0.005, high=1)]
    >>> read(Given, {"width_m": "2 m"})
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: Width is 2000 mm; it can't be above 1000 mm
    """
    asked = asked_of(given)
    says = {}
    for name, text in texts.items():
        if name not in asked:
            known = ", ".join(asked) or "none"
            raise Refused(name, f"“{name[:40]}” is not asked here; what is asked: {known}")
        if text.strip():
            says[name] = asked[name][0].value(name, text, units)
    return says
