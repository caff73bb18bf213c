"""A data folder of the house before is opened by this one: nothing of it is lost."""

from __future__ import annotations

import json

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, text
from sqlalchemy.exc import DatabaseError
from tests.conftest import MORNING, Shop

from kiteloom.store.file import MIGRATIONS

AT = "2026-05-13 10:00:00"


@pytest.fixture
def before(tmp_path):
    """A folder as the second migration left it, with a ratio by volume, a lot, a batch and two alerts."""
    folder = tmp_path / "shop"
    folder.mkdir()
    engine = create_engine(f"sqlite:///{folder / 'kiteloom.sqlite3'}")
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0002")
        says = {"ratio": {"resin": 2, "hardener": 1, "basis": "volume"}, "resin_density_g_ml": 1.1}
        says |= {"hardener_density_g_ml": 1.0, "lids": {"resin": "A", "hardener": "B"}, "tolerance_pct": 5}
        says |= {"cure": {"activation_energy_kj_mol": 50, "reference_c": 20, "stages": [{"name": "gel", "hours": 3}]}}
        rows = [
            (
                "data_sheet",
                {"id": "s", "kind": "wood glue", "name": "Old glue", "says": json.dumps(says), "version": 3},
            ),
            ("lot", {"id": "l", "data_sheet_id": "s", "lot_number": "9", "received_on": "2026-01-01"}),
        ]
        for about, silenced in (("one", None), ("two", AT)):
            alert = {"kind": "stage", "about": about, "link": "/", "words": about, "happened_at": AT}
            rows.append(("alert", {**alert, "recorded_at": AT, "silenced_at": silenced}))
        for table, row in rows:
            row = {"updated_at": AT, **row} if table == "data_sheet" else row
            names = ", ".join(row)
            values = ", ".join(f":{name}" for name in row)
            connection.execute(text(f"INSERT INTO {table} ({names}) VALUES ({values})"), row)
        connection.commit()
    engine.dispose()
    return folder


def test_what_was_there_is_there_and_can_be_worked_with(before):
    shop = Shop(before)
    shop.clock.at = MORNING
    (glue,) = [p for p in shop.get("/bench")["products"] if p["name"] == "Old glue"]
    assert glue["ratio"] == "2 : 1 by volume"
    sheet = shop.get("/shelf/s")
    assert next(f["text"] for f in sheet["fields"] if f["key"] == "ratio_by_volume") == "2 : 1"
    assert next(f["text"] for f in sheet["fields"] if f["key"] == "ratio") == ""
    assert sheet["version"] == 3
    assert [(lot["lot_number"], lot["component"], lot["left"]) for lot in sheet["lots"]] == [("9", "both", None)]
    assert [alert["words"] for alert in shop.get("/weather")["alerts"]] == ["one"]
    shop.store.close()


FACTS = ("lot_note", "pump", "batch_note", "photo", "witness", "part_place", "part_temperature", "heating")


@pytest.mark.parametrize("table", FACTS)
def test_what_happened_is_never_changed_or_deleted(shop, table):
    with shop.store.engine.connect() as connection:
        if not connection.execute(text(f"SELECT count(*) FROM {table}")).scalar():
            _one_row(connection, table)
        for change in (f"UPDATE {table} SET recorded_at = happened_at", f"DELETE FROM {table}"):
            with pytest.raises(DatabaseError, match="what happened is not changed"):
                connection.execute(text(change))


def _one_row(connection, table):
    one = {name: connection.execute(text(f"SELECT id FROM {name} LIMIT 1")).scalar() for name in ("lot", "data_sheet")}
    one |= {name: connection.execute(text(f"SELECT id FROM {name} LIMIT 1")).scalar() for name in ("batch", "part")}
    rows = {
        "lot_note": {"lot_id": one["lot"], "kind": "opened", "note": ""},
        "pump": {"data_sheet_id": one["data_sheet"], "component": "resin", "strokes": 3, "grams": 20},
        "batch_note": {"batch_id": one["batch"], "kind": "emptied", "step_key": "", "note": ""},
        "photo": {"batch_id": one["batch"], "media": "image/png", "data": b"x"},
        "part_place": {"part_id": one["part"], "zone_id": "cool room"},
        "part_temperature": {"part_id": one["part"], "temp_c": 20, "source": "typed"},
        "heating": {"part_id": one["part"], "legs": "[]"},
    }
    row = {"id": "x", "happened_at": AT, "recorded_at": AT, **rows[table]}
    names = ", ".join(row)
    values = ", ".join(f":{name}" for name in row)
    connection.execute(text(f"INSERT INTO {table} ({names}) VALUES ({values})"), row)
