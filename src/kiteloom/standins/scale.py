"""A simulated scale: noisy, drifting, slow to settle, and it can be unplugged. Somebody has to pour."""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock

#: What the display needs to come to two thirds of a change [s].
_SETTLE_S = 0.35
#: How far it drifts in a minute [g].
_DRIFT_G_MIN = 0.03


class Unplugged(OSError):
    """The scale does not answer."""


@dataclass
class SimulatedScale:
    """Follows what is poured on it.

    Parameters
    ----------
    step_g : float
        What its display counts in [g].
    clock : callable
        Seconds, rising.
    """

    step_g: float = 0.1
    clock: Callable[[], float] = time.monotonic
    seed: int = 5
    plugged: bool = True
    _load_g: float = 0.0
    _rate_g_s: float = 0.0
    _tare_g: float = 0.0
    _shown_g: float = 0.0
    _began: float = field(default=0.0)
    _at: float = field(default=0.0)
    _lock: Lock = field(default_factory=Lock)

    def __post_init__(self) -> None:
        self._began = self._at = self.clock()
        self._chance = random.Random(self.seed)

    def read(self) -> tuple[float, bool]:
        """What it shows [g], and whether it stands still."""
        with self._lock:
            if not self.plugged:
                raise Unplugged
            self._follow()
            drift = _DRIFT_G_MIN * (self._at - self._began) / 60
            noise = self._chance.gauss(0, self.step_g * 0.25)
            shown = self._shown_g - self._tare_g + drift + noise
            steady = abs(self._shown_g - self._load_g) < self.step_g and self._rate_g_s == 0
            return round(round(shown / self.step_g) * self.step_g, 6) + 0.0, steady

    def tare(self) -> None:
        """Zero, with what stands on it."""
        with self._lock:
            if not self.plugged:
                raise Unplugged
            self._follow()
            self._shown_g = self._load_g
            drift = _DRIFT_G_MIN * (self._at - self._began) / 60
            self._tare_g = self._load_g + drift

    def pour(self, grams_per_second: float) -> None:
        """Let it run into the cup at this rate from now on; 0 stops."""
        with self._lock:
            self._follow()
            self._rate_g_s = grams_per_second

    def put_on(self, grams: float) -> None:
        """Put something on it, or take it off."""
        with self._lock:
            self._follow()
            self._load_g += grams

    def _follow(self) -> None:
        now = self.clock()
        passed = max(now - self._at, 0.0)
        # First order behind what runs in: it trails a steady stream by so much, and forgets where it was.
        trail = self._rate_g_s * _SETTLE_S
        left = math.exp(-passed / _SETTLE_S)
        behind = self._shown_g - self._load_g + trail
        self._load_g += self._rate_g_s * passed
        self._shown_g = self._load_g - trail + behind * left
        self._at = now
