"""What steps wait for, and what came."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.workshop.plan.wanted import DeliveryView


@dataclass(frozen=True)
class DeliveriesView:
    """Everything steps wait for, and what came."""

    deliveries: list[DeliveryView]
