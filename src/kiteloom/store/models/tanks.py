"""What was read of tanks under pressure."""

from __future__ import annotations

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Fact


class TankRead(Fact, Base):
    """A tank's gauge [kPa], its own temperature [°C], the barometer [kPa] where it was read.

    ``begins`` is true of the first reading after it was pumped up.
    """

    __tablename__ = "tank_read"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    begins: Mapped[bool]
    gauge_kpa: Mapped[float]
    temp_c: Mapped[float]
    air_kpa: Mapped[float | None]
    note: Mapped[str] = mapped_column(default="")
