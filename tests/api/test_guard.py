"""Who may ask this shop for anything, how much, and what is answered to the rest."""

from __future__ import annotations

import json
import re

import pytest
from tests.api.hostile import IN_PATHS

from kiteloom.api import application
from kiteloom.api.guard import LARGEST_BODY

JSON = "application/json"
RULES = sorted({(rule.rule, method) for rule in application().url_map.iter_rules() for method in rule.methods or ()})
CHANGES = [(rule, method) for rule, method in RULES if method not in ("GET", "HEAD", "OPTIONS")]
READS = [rule for rule, method in RULES if method == "GET" and "<" in rule]


def filled(rule, name="x"):
    return re.sub(r"<(int:)?[^>]*>", lambda found: "1" if found[1] else name, rule)


def test_every_change_is_refused_to_other_pages_and_other_kinds_of_body(shop):
    """As an attack saw it: a form, a fetch without asking first, a page in a frame, another site's name."""
    seq = shop.get("/now?since=-1")["seq"]
    assert len(CHANGES) > 60
    for rule, method in CHANGES:
        path = filled(rule)
        for headers, kind, status in (
            ({}, "text/plain", 415),
            ({}, "application/x-www-form-urlencoded", 415),
            ({}, None, 415),
            ({"Origin": "http://evil.test:8400"}, JSON, 403),
            ({"Origin": "null"}, JSON, 403),
            ({"Origin": "http://localhost:9999"}, JSON, 403),
            ({"Sec-Fetch-Site": "cross-site"}, JSON, 403),
            ({"Sec-Fetch-Site": "same-site"}, JSON, 403),
        ):
            answer = shop.client.open(path, method=method, data="{}", headers=headers, content_type=kind)
            assert answer.status_code == status, (method, path, headers, kind)
            assert answer.json["detail"]
    assert shop.get("/now?since=-1")["seq"] == seq


def test_its_own_pages_may_change_what_they_show(shop):
    own = {"Origin": "http://localhost", "Sec-Fetch-Site": "same-origin"}
    body = json.dumps({"version": shop.get("/shop")["version"], "units": "us"})
    assert shop.client.patch("/api/v1/shop", data=body, headers=own, content_type=JSON).status_code == 200


@pytest.mark.parametrize("host", ["evil.example", "rebind.test:8321", "127.0.0.1.evil.example", "127.0.0.1, evil", ""])
def test_under_another_name_it_answers_nothing(shop, host):
    for method, path in (("GET", "/api/v1/now"), ("GET", "/"), ("PATCH", "/api/v1/shop"), ("GET", "/api/v1/lids")):
        assert shop.client.open(path, method=method, headers={"Host": host}).status_code == 421


def test_names_it_was_started_with_are_its_own_and_stand_on_its_labels(shop):
    shop.app.config["HOSTS"], shop.app.config["NAME"] = frozenset(("localhost", "boathouse.test")), "boathouse.test"
    try:
        assert shop.client.get("/api/v1/now", headers={"Host": "Boathouse.test:8127"}).status_code == 200
        assert shop.client.get("/api/v1/lids", headers={"Host": "localhost:8127"}).status_code == 200
    finally:
        shop.app.config["NAME"] = ""


@pytest.mark.parametrize(
    ("body", "status"),
    [
        (50_000 * "[" + 50_000 * "]", 422),
        ("[" + "{}," * 300_000 + "{}]", 422),
        (json.dumps({"units": "\ud800"}), 422),
        (json.dumps({"version": 10**30}), 422),
        (json.dumps({"units": "x" * 20_000}), 422),
        (json.dumps({"units": "x" * (LARGEST_BODY + 1)}), 413),
        ('{"version": ' + 5000 * "9" + "}", 422),
        ("{", 422),
    ],
    ids=["deep", "wide", "half a letter", "huge number", "long text", "large", "endless number", "cut short"],
)
def test_a_body_that_would_break_or_stop_it_is_refused_in_a_sentence(empty_shop, body, status):
    answer = empty_shop.client.patch("/api/v1/shop", data=body, content_type=JSON)
    assert answer.status_code == status
    assert 10 < len(answer.json["detail"]) < 400  # and never what was sent, whole


@pytest.mark.parametrize("rule", READS)
def test_no_path_however_odd_is_answered_by_a_trace(empty_shop, rule):
    for name in IN_PATHS:
        asked = re.sub(r"<[^>]*>", name, rule)
        answer = empty_shop.client.get(asked if rule != "/<path:path>" else f"/{name}")
        assert answer.status_code < 500, (asked, answer.text)
        query = empty_shop.client.get(
            f"{filled(rule)}?since={name}&start={name}&step_key={name}&part_id={name}&form={name}"
        )
        assert query.status_code < 500, (rule, name, query.text)


def test_an_id_used_again_for_something_else_keeps_nothing_and_says_so(shop, left_upper):
    tarn = next(p["id"] for p in shop.get("/bench")["products"] if p["name"] == "Tarn 210 with 214 slow")
    cup = {"id": "one", "part_id": left_upper, "step_key": "skin-1/layup", "sheet_id": tarn, "wanted_g": 128}
    cup |= {"resin_lid": "Tarn 210 A", "hardener_lid": "Tarn 214 B slow"}
    cup |= {"resin": {"text": "100", "unit": "g"}, "hardener": {"text": "28", "unit": "g"}}
    assert shop.ask("POST", "/batches", cup, 201) == shop.ask("POST", "/batches", cup, 201)
    other = {**cup, "resin": {"text": "50", "unit": "g"}, "hardener": {"text": "14", "unit": "g"}}
    assert "used for something else" in shop.ask("POST", "/batches", other, 409)["detail"]
    work = {"id": "w", "part_id": left_upper, "step_key": "prepare", "kind": "start"}
    shop.ask("POST", "/work", work, 201)
    shop.ask("POST", "/work", {**work, "kind": "finish"}, 409)


def test_other_sites_can_not_even_show_what_is_here(shop):
    headers = shop.client.get("/api/v1/now").headers
    assert headers["Cross-Origin-Resource-Policy"] == "same-origin"
    assert "form-action 'self'" in headers["Content-Security-Policy"]
