"""What is counted and bought: a product by its sheet, one of its two components, or an item that is not mixed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused
from kiteloom.core.stores.lots import Measure

#: What a ware can be; of what no product is there yet only the name is known.
Kind = Literal["sheet", "item", "name"]


@dataclass(frozen=True, order=True)
class Ware:
    """Its kind, its id, and which component where a product is bought so."""

    kind: Kind
    id: str
    component: str = "both"

    @property
    def key(self) -> str:
        """As it is written in an address.

        >>> Ware("sheet", "tarn", "resin").key
        'sheet:tarn:resin'
        """
        return f"{self.kind}:{self.id}:{self.component}"

    @classmethod
    def of(cls, key: str) -> Ware:
        """What an address says; `Refused` where it says nothing.

        >>> Ware.of("item:bush:both").id
        'bush'
        """
        kind, _, rest = key.partition(":")
        name, _, component = rest.rpartition(":")
        if kind not in ("sheet", "item", "name") or not name or component not in ("both", "resin", "hardener"):
            raise Refused("ware", f"“{key[:60]}” is nothing that is counted or bought")
        return cls(kind, name, component)  # type: ignore[arg-type]  # one of them, just looked at


@dataclass(frozen=True)
class Takes:
    """So much of a ware that a step takes, in the measure it is counted in; ``part`` and ``step`` say for what."""

    ware: Ware
    part: str
    step: str
    amount: float
    measure: Measure


def split(amount: float, hardener_per_resin: float) -> tuple[float, float]:
    """A mix as resin and hardener, by its ratio by weight [g].

    >>> split(128.0, 0.28)
    (100.0, 28.0)
    """
    resin = amount / (1 + hardener_per_resin)
    return resin, amount - resin
