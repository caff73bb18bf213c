"""The house around the routes: types, policy, migrations, command line, and a power cut."""

import gzip
import socket
import subprocess
import sys
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext

from kiteloom.store.models import Base

ROOT = Path(__file__).parents[2]


def test_the_front_ends_types_are_those_of_the_api(tmp_path):
    described = tmp_path / "openapi.json"
    with described.open("w") as file:
        subprocess.run([sys.executable, "-m", "kiteloom.cli", "openapi"], stdout=file, check=True)
    fresh = tmp_path / "schema.d.ts"
    tool = [ROOT / "web/node_modules/.bin/openapi-typescript", described]
    subprocess.run([*tool, "--default-non-nullable=false", "--output", fresh], check=True, capture_output=True)
    assert fresh.read_text() == (ROOT / "web/src/api/schema.d.ts").read_text(), "run make types"


def test_the_migrations_make_the_tables_the_models_describe(empty_shop):
    with empty_shop.store.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
        settings = [connection.exec_driver_sql(f"PRAGMA {name}").scalar() for name in ("journal_mode", "foreign_keys")]
        assert settings == ["wal", 1]
        assert connection.exec_driver_sql("PRAGMA synchronous").scalar() == 2  # FULL


def test_a_new_folder_is_an_empty_shop_that_says_so(empty_shop):
    assert (empty_shop.get("/airframe")["id"], empty_shop.get("/airframe")["assemblies"]) == ("", [])
    assert empty_shop.get("/weather")["temp_c"] is None
    assert empty_shop.get("/bench")["products"] == []


@pytest.mark.parametrize("path", ["/", "/part/x/shape", "/api/v1/now"])
def test_every_answer_carries_the_policy_without_inline_script(empty_shop, path):
    policy = empty_shop.client.get(path).headers["Content-Security-Policy"]
    assert "script-src 'self';" in policy
    assert "default-src 'self'" in policy


def test_the_built_page_fetches_nothing_from_elsewhere(empty_shop):
    page = empty_shop.client.get("/").text
    assert "<script>" not in page
    assert "http" not in page
    assert empty_shop.client.get("/../../pyproject.toml").status_code in (200, 404)
    assert "requires-python" not in empty_shop.client.get("/../../pyproject.toml").text


def test_what_is_wrong_inside_is_a_problem_and_never_a_trace(shop, monkeypatch):
    monkeypatch.setattr("kiteloom.views.airframe.airframe", lambda *_: 1 / 0)
    broken = shop.ask("GET", "/airframe", status=500)
    assert broken["detail"] == "This was not expected. Nothing was saved; the log of the program says more."


def test_a_busy_port_is_reported_with_the_way_out(tmp_path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        command = [sys.executable, "-m", "kiteloom.cli", "demo", "--data", str(tmp_path), "--port", str(port)]
        said = subprocess.run(command, capture_output=True, text=True, timeout=60, check=False)
    assert said.returncode == 1
    assert f"Port {port} is busy" in said.stderr
    assert f"PORT={port + 1} make demo" in said.stderr


def test_scripts_are_sent_compressed_to_whoever_takes_it_and_kept_for_good(empty_shop):
    script = next(path for path in (ROOT / "web/dist/assets").glob("index-*.js"))
    plain = empty_shop.client.get(f"/assets/{script.name}")
    packed = empty_shop.client.get(f"/assets/{script.name}", headers={"Accept-Encoding": "gzip"})
    assert packed.headers["Content-Encoding"] == "gzip"
    assert gzip.decompress(packed.data) == plain.data == script.read_bytes()
    assert len(packed.data) < len(plain.data) / 2
    for answer in (plain, packed):
        assert answer.mimetype == "text/javascript"
        assert "immutable" in answer.headers["Cache-Control"]
    assert "immutable" not in empty_shop.client.get("/").headers.get("Cache-Control", "")


def test_the_description_names_every_route_once_with_what_it_does(empty_shop):
    spec = empty_shop.get("/openapi.json")
    operations = [(path, verb, what) for path, verbs in spec["paths"].items() for verb, what in verbs.items()]
    assert {path for path, _, _ in operations} >= {
        f"/api/v1/calc/{name}" for name in ("mix", "mix-check", "activation", "cure", "surface", "laminate")
    }
    assert len({what["summary"] for _, _, what in operations}) == len(operations)
    for path, _, what in operations:
        assert path.startswith("/api/v1/")
        assert what["tags"]
        good = next(code for code in what["responses"] if code.startswith("2"))
        assert "schema" in what["responses"][good]["content"]["application/json"]


@pytest.mark.parametrize(
    "kind", ["length", "thickness", "area", "mass", "scale", "areal weight", "temperature", "hours"]
)
def test_the_table_of_formats_is_served_for_both_unit_systems(empty_shop, kind):
    table = empty_shop.get("/formats")["kinds"][kind]
    assert set(table) == {"metric", "us"}
    assert table["metric"]["factor"] > 0
    assert table["us"]["unit"]
