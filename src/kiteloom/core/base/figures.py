"""A figure that can answer "from what?"."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Given:
    """One input of a figure: its value, its kind (see ``quantities.FORMATS``), and whether assumed.

    ``value`` is a number of that kind, or words.
    """

    name: str
    value: float | str
    kind: str = "number"
    assumed: bool = False

    def __post_init__(self) -> None:
        if not isinstance(self.value, str):
            object.__setattr__(self, "value", float(self.value))


@dataclass(frozen=True)
class Figure:
    """A computed figure with the equation and the inputs it came from.

    Parameters
    ----------
    key : str
        Stable name (``"planform_area"``).
    value : float or None
        In the unit of its kind; None when it cannot be computed.
    equation, source : str
        As a builder can check it, and who says so.
    given : tuple of Given
        The inputs; ``assumed`` ones are neither from the builder nor from a data sheet.
    assumed : bool
        Whether any input was; set from them.
    """

    key: str
    label: str
    value: float | None
    kind: str
    equation: str
    given: tuple[Given, ...] = ()
    source: str = ""
    assumed: bool = False

    def __post_init__(self) -> None:
        object.__setattr__(self, "assumed", any(item.assumed for item in self.given))
