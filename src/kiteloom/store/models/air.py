"""The air: zones, what was measured and said of it, where parts are."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited, Fact


class Zone(Edited, Base):
    """A part of the shop with its own air: how it follows the weather, and its heater's hours."""

    __tablename__ = "zone"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    rank: Mapped[int]
    lag_h: Mapped[float]
    gain_k: Mapped[float]
    heat_c: Mapped[float | None]
    heat_from: Mapped[int]
    heat_to: Mapped[int]
    longest_m: Mapped[float | None]


class Temperature(Base):
    """A temperature of one zone of the shop, and its humidity where it was read: by a logger's file or a probe."""

    __tablename__ = "temperature"
    zone: Mapped[str] = mapped_column(primary_key=True)
    happened_at: Mapped[datetime] = mapped_column(primary_key=True)
    temp_c: Mapped[float]
    rh_pct: Mapped[float | None]
    source: Mapped[str] = mapped_column(default="imported")
    import_id: Mapped[str | None] = mapped_column(ForeignKey("temperature_import.id"))
    __table_args__ = (CheckConstraint("source IN ('probe','imported')", name="source"),)


class TemperatureReplaced(Base):
    """A temperature that a logger's file replaced: kept, and back again when the file is taken back."""

    __tablename__ = "temperature_replaced"
    zone: Mapped[str] = mapped_column(primary_key=True)
    happened_at: Mapped[datetime] = mapped_column(primary_key=True)
    replaced_by: Mapped[str] = mapped_column(String(36), primary_key=True)
    temp_c: Mapped[float]
    rh_pct: Mapped[float | None]
    source: Mapped[str]
    import_id: Mapped[str | None] = mapped_column(String(36))


class TemperatureImport(Fact, Base):
    """A logger's file that was taken in."""

    __tablename__ = "temperature_import"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    zone: Mapped[str]
    name: Mapped[str]
    rows_read: Mapped[int]
    rows_new: Mapped[int]


class Outlook(Fact, Base):
    """A night's low and a day's high, as typed, of the room or outside; the newest one counts."""

    __tablename__ = "outlook"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    zone: Mapped[str]
    low_c: Mapped[float]
    high_c: Mapped[float]
    place: Mapped[str] = mapped_column(default="room")


class Forecast(Fact, Base):
    """The weather outside of the days to come, as it was said; the newest one counts."""

    __tablename__ = "forecast"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    days: Mapped[list[Any]]


class PartPlace(Fact, Base):
    """That a part was moved to a zone."""

    __tablename__ = "part_place"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    zone_id: Mapped[str] = mapped_column(ForeignKey("zone.id"))


class PartTemperature(Fact, Base):
    """A part's own temperature: by a probe on it, or an infrared reading that was typed."""

    __tablename__ = "part_temperature"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    temp_c: Mapped[float]
    source: Mapped[str]
    __table_args__ = (CheckConstraint("source IN ('probe','typed')", name="source"),)


class Heating(Fact, Base):
    """A post-cure of a part, ramps and holds from ``happened_at`` on, which may lie ahead; or one called off."""

    __tablename__ = "heating"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    undoes_id: Mapped[str | None] = mapped_column(ForeignKey("heating.id"), unique=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    legs: Mapped[list[Any]]
    cool_k_h: Mapped[float | None]
    heat_from: Mapped[str] = mapped_column(default="")
