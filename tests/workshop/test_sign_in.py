"""Who is let in, for how long, and what each may do; whose hand a fact is in."""

from __future__ import annotations

import io
import json
import re
import sqlite3
from contextlib import closing
from datetime import timedelta
from zipfile import ZipFile

import pypdf
import pytest
from tests.api.test_guard import CHANGES, filled
from tests.conftest import JSON, MORNING, Shop

from kiteloom import cli
from kiteloom.api import who
from kiteloom.core.build.closing import EDGES
from kiteloom.store import file
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.sign_in import IDLE, LOOKING, SHIFT
from kiteloom.workshop.log.gates import wanted_key

BO, IMRE, ODILE, TEO = (stable_id("crew", name) for name in ("Bo", "Imre", "Odile", "Teo"))
PIN = {BO: "2580", IMRE: "9137", ODILE: "boat house oak", TEO: "7315"}


class Tablet(Shop):
    """A tablet of the same shop, with its own sign-in."""

    def __init__(self, shop) -> None:
        self.folder, self.clock, self.app, self.store = shop.folder, shop.clock, shop.app, shop.store
        self.client = shop.app.test_client()

    def come_in(self, person, secret="", status=200):
        return self.ask("POST", "/sign-in", {"person_id": person, "secret": secret or PIN[person]}, status)

    def gives(self, person, status=200, **more):
        body = {"person_id": person, "secret": PIN[person], **more}
        return self.ask("POST", f"/people/{person}/pin", body, status)

    @property
    def me(self):
        return self.get("/sign-in")["me"]


@pytest.fixture
def tablet(shop):
    """Imre's: he gave the shop its first PIN, and the others theirs."""
    found = Tablet(shop)
    for person in (IMRE, BO, ODILE, TEO):
        found.gives(person)
    return found


def signed_in(shop, person):
    found = Tablet(shop)
    found.come_in(person)
    return found


def role(tablet, person, role, status=200):
    people = tablet.get("/people")["people"]
    version = next(one["version"] for one in people if one["id"] == person)
    return tablet.ask("POST", f"/people/{person}/role", {"role": role, "version": version}, status)


def test_nobody_signs_in_until_the_first_has_a_pin_and_from_then_on_everybody_does(shop):
    first, other = Tablet(shop), Tablet(shop)
    assert first.get("/sign-in") | {"shop": ""} == {"shop": "", "needed": False, "me": None, "people": []}
    for easy, says in (("1234", "in a row"), ("8888", "all the same"), ("258", "4 to 12"), ("oak", "at least 8"),
                       ("7" * 201, "at most 200")):  # fmt: skip
        told = first.ask("POST", f"/people/{IMRE}/pin", {"person_id": IMRE, "secret": easy}, 422)["detail"]
        assert says in told
        assert easy not in told
    assert first.gives(IMRE)["me"] == {
        "id": IMRE, "name": "Imre", "role": "lead", "builds": True, "leads": True,
    }  # fmt: skip
    assert first.get("/today")["sentence"]
    assert other.ask("GET", "/today", status=401)["detail"] == "Sign in first: nothing of this was done."
    assert other.ask("POST", "/shelf", {}, 401)["title"] == "Not signed in"
    assert other.get("/sign-in")["people"] == [{"id": IMRE, "name": "Imre"}]
    assert other.get("/formats")["kinds"]
    # On this machine whoever calculates needs no name.
    assert other.client.post("/api/v1/calc/mix", data="{}", content_type=JSON).status_code == 422
    # Nobody gives themselves one any more.
    assert other.gives(BO, 401)
    first.gives(BO)
    assert other.come_in(BO)["me"]["role"] == "builder"
    assert "given by a lead" in other.gives(ODILE, 403)["detail"]
    assert "not Bo’s PIN" in other.gives(BO, 403, had="0000")["detail"]
    assert other.gives(BO, had="2580", secret="boats on the lake")["me"]["name"] == "Bo"
    assert other.get("/today")["sentence"]
    kept = (shop.folder / file.NAME).read_bytes()
    assert b"boats on the lake" not in kept


def test_a_wrong_pin_twenty_times(shop, tablet):
    thief = Tablet(shop)
    left = [thief.come_in(BO, "1111", 403)["detail"][-22:] for _ in range(4)]
    assert left == [f"; {n} more can be tried." for n in (4, 3, 2, 1)]
    for n in range(16):
        answer = thief.client.post("/api/v1/sign-in", json={"person_id": BO, "secret": "2580" if n else "1111"})
        assert (answer.status_code, answer.json["wait_s"]) == (429, 31 if n else 30)
        assert int(answer.headers["Retry-After"]) == answer.json["wait_s"]
    # Starting anew forgives nothing; waiting does, twice as long each time, a quarter of an hour at most.
    shop.reopen()
    thief = Tablet(shop)
    assert "5 wrong ones were tried for Bo" in thief.come_in(BO, status=429)["detail"]
    waits = []
    for _ in range(8):
        shop.clock.at += timedelta(minutes=15)
        waits.append(thief.come_in(BO, "1111", 429)["wait_s"])
    assert waits == [60, 120, 240, 480, 900, 900, 900, 900]
    # A clock that was set back makes nobody wait for days.
    shop.clock.at -= timedelta(days=3)
    assert thief.come_in(BO, status=429)["wait_s"] == 901
    shop.clock.at += timedelta(days=3, minutes=15)
    assert thief.come_in(BO)["me"]["name"] == "Bo"
    assert "4 more can be tried" in thief.come_in(BO, "1111", 403)["detail"]
    assert "Nobody of that name" in thief.come_in("nobody", "1111", 403)["detail"]


def test_a_tablet_is_somebodys_for_a_while(shop, tablet):
    def writes(tablet, n):
        return tablet.ask("POST", "/log-notes", {"id": f"n{n}", "kind": "note", "words": "there"}, None)

    bo, wall = signed_in(shop, BO), Tablet(shop)
    role(tablet, TEO, "looker-on")
    wall.come_in(TEO)
    began = shop.clock.at
    for n in range(5):  # what is ordered keeps it, what is only looked at does not
        shop.clock.at += timedelta(hours=3, minutes=10)
        writes(bo, n)
        assert (bo.me is None) == (shop.clock.at - began >= SHIFT), n
    assert tablet.me is None
    assert wall.me["role"] == "looker-on"
    shop.clock.at = began + LOOKING
    assert wall.me is None
    # Idle, left, farewelled, or with a new PIN: out.
    bo.come_in(BO)
    shop.clock.at += IDLE - timedelta(minutes=1)
    assert bo.get("/today")
    shop.clock.at += timedelta(minutes=1)
    assert bo.ask("GET", "/today", status=401)
    other = signed_in(shop, BO)
    assert other.ask("POST", "/sign-out", {})["me"] is None
    assert other.me is None
    bo.come_in(BO)
    tablet.come_in(IMRE)
    tablet.gives(BO)
    assert bo.me is None
    bo.come_in(BO)
    version = next(one["version"] for one in tablet.get("/people")["people"] if one["id"] == BO)
    tablet.ask("POST", f"/people/{BO}/farewell", {"version": version})
    assert bo.me is None
    assert "Nobody of that name" in bo.come_in(BO, status=403)["detail"]


def test_who_looks_on_changes_nothing_whatever_is_asked(shop, tablet):
    """Every route that changes something, there is and will be."""
    role(tablet, TEO, "looker-on")
    link = tablet.ask("POST", "/guests", {"id": "g", "name": "Harald Brandt", "days": 7}, 201)["link"]
    looker, builder, guest = signed_in(shop, TEO), signed_in(shop, BO), Tablet(shop)
    guest.ask("POST", "/sign-in/link", {"link": link})
    seq = tablet.get("/now?since=-1")["seq"]
    routes = {(rule.rule, method): rule.endpoint for rule in shop.app.url_map.iter_rules() for method in rule.methods}
    asked, told = 0, set()
    for rule, method in CHANGES:
        endpoint = routes[rule, method]
        if endpoint in who.OPEN or rule.startswith(who.CALCULATIONS):
            continue
        for one in (looker, guest):
            answer = one.client.open(filled(rule), method=method, data="{}", content_type=JSON)
            free = endpoint in who.LOOKS or (one is guest and endpoint in who.INSPECTORS)
            assert (answer.status_code == 403) == (not free), (rule, answer.text)
            asked += 1
            told |= {answer.json["detail"]} if endpoint not in who.LEADS and not free else set()
        if endpoint in who.LEADS:
            refused = builder.client.open(filled(rule), method=method, data="{}", content_type=JSON)
            assert refused.json["detail"] == "That is a lead’s to do; Bo is a builder here."
    assert asked > 200
    assert told - {"A PIN is given by a lead, or changed by whose it is."} == {
        "Teo is a looker-on here, and changes nothing; nothing was saved.",
        "Harald Brandt is an inspector here, and changes nothing; nothing was saved.",
    }
    assert tablet.get("/now?since=-1")["seq"] == seq
    assert builder.ask("GET", "/archive.zip", status=403)
    assert looker.get("/today")["sentence"] == guest.get("/today")["sentence"]


def test_what_only_looks_keeps_nothing(shop):
    """What stands among the looks is what reads."""
    functions = shop.app.view_functions
    for endpoint in who.LOOKS:
        code = functions[endpoint]
        while hasattr(code, "__wrapped__"):
            code = code.__wrapped__
        assert "writing" not in code.__code__.co_names, endpoint


def at_gate(tablet, kind, who, status=201, **more):
    part = tablet.part("Left wing, closing joint")
    body = {"id": f"{kind}{who}"[:36], "part_id": part, "step_key": "bond", "kind": kind, "crew_member_id": who}
    return tablet.ask("POST", "/gate/notes", {**body, **more}, status)


def test_nobody_signs_for_another(shop, tablet):
    refused = at_gate(tablet, "sign", BO, 403)
    assert (refused["detail"], refused["sign_in"]) == ("Bo signs with a PIN of their own: sign in as Bo.", BO)
    assert "lines are open" in at_gate(tablet, "sign", IMRE, 422)["detail"]  # he himself may, once it is time
    at_gate(tablet, "not needed", IMRE, line=wanted_key(EDGES),
            note="no cloth here")  # fmt: skip
    bo = signed_in(shop, BO)
    assert at_gate(bo, "reopen", IMRE, 403)["sign_in"] == IMRE
    found = bo.ask("POST", "/deviations", {"id": "d", "part_id": bo.part("Left wing, lower skin"), "kind": "other",
                                           "words": "a dent", "at": None}, 201)  # fmt: skip
    assert found
    decides = {"id": "r", "kind": "accept", "note": "by the book", "before": ""}
    assert bo.ask("POST", "/deviations/d/decisions", {**decides, "crew_member_id": IMRE}, 403)["sign_in"] == IMRE
    # What is written down is theirs who are signed in, where it names nobody; and it is known whose hand it is.
    bo.ask("POST", "/log-notes", {"id": "n", "kind": "note", "words": "for Odile", "crew_member_id": ODILE}, 201)
    bo.ask("POST", "/log-notes", {"id": "m", "kind": "note", "words": "mine"}, 201)
    book = bo.get("/logbook?kind=note")["days"][0]["entries"]
    assert {e["words"]: (e["who"], e["by_hand"]) for e in book if e["words"] in ("for Odile", "mine")} == {
        "for Odile": ("Odile", "Bo"), "mine": ("Bo", ""),
    }  # fmt: skip


def test_the_build_record_says_and_chains_whose_hand_a_fact_is_in(shop, tablet):
    skin = tablet.part("Left wing, lower skin")
    signed_in(shop, BO).ask("POST", "/log-notes", {"id": "n", "kind": "note", "words": "for Odile", "part_id": skin,
                                                   "crew_member_id": ODILE}, 201)  # fmt: skip
    before = printed(shop, skin)
    assert "Odile, written by Bo" in before
    with closing(sqlite3.connect(shop.folder / file.NAME)) as database:
        database.execute("DROP TRIGGER written_no_update")
        database.execute("UPDATE written SET crew_member_id = ? WHERE ref = 'n'", (TEO,))
        database.commit()
    after = printed(shop, skin)
    assert re.findall("[0-9a-f]{64}", before) != re.findall("[0-9a-f]{64}", after)


def printed(shop, part):
    answer = signed_in(shop, IMRE).client.get(f"/api/v1/parts/{part}/record.pdf")
    return " ".join(" ".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(answer.data)).pages).split())


def test_an_inspector_comes_by_a_link_until_it_ends(shop, tablet):
    made = tablet.ask("POST", "/guests", {"id": "g", "name": "Harald Brandt", "days": 7}, 201)
    assert made["guest"]["words"] == "The link ends Thu 21 May 09:20"
    guest = Tablet(shop)
    assert "leads nowhere" in guest.ask("POST", "/sign-in/link", {"link": made["link"][:-1]}, 403)["detail"]
    assert guest.ask("POST", "/sign-in/link", {"link": made["link"]})["me"] == {
        "id": "", "name": "Harald Brandt", "role": "inspector", "builds": False, "leads": False,
    }  # fmt: skip
    assert "an inspector signs" in at_gate(guest, "sign", None, 403)["detail"].lower()
    assert "Imre signs with a PIN" in at_gate(guest, "seen", IMRE, 403)["detail"]
    at_gate(guest, "seen", None, note="the spar, with a mirror")
    view = tablet.get(f"/gate?part_id={tablet.part('Left wing, closing joint')}&step_key=bond")
    assert view["seen"] == "Harald Brandt, by their own link: the spar, with a mirror"
    shop.clock.at = MORNING + timedelta(days=7)
    assert guest.ask("GET", "/today", status=401)
    assert "has ended" in guest.ask("POST", "/sign-in/link", {"link": made["link"]}, 403)["detail"]
    tablet.come_in(IMRE)
    second = tablet.ask("POST", "/guests", {"id": "h", "name": "Harald Brandt", "days": 90}, 201)["link"]
    guest.ask("POST", "/sign-in/link", {"link": second})
    tablet.ask("POST", "/guests/h/end", {})
    assert guest.me is None
    for wrong, says in (({"days": 91}, "1 to 90"), ({"days": 0}, "1 to 90"), ({"name": " "}, "1 to 80")):
        body = {"id": "w", "name": "X", "days": 3, **wrong}
        assert says in tablet.ask("POST", "/guests", body, 422)["detail"]


def test_a_lead_who_can_sign_in_is_always_left(shop, tablet):
    only = "Imre is the only lead who can sign in"
    version = next(one["version"] for one in tablet.get("/people")["people"] if one["id"] == IMRE)
    assert only in role(tablet, IMRE, "builder", 422)["detail"]
    assert only in tablet.ask("POST", f"/people/{IMRE}/pin/away", {}, 422)["detail"]
    assert only in tablet.ask("POST", f"/people/{IMRE}/farewell", {"version": version}, 422)["detail"]
    role(tablet, BO, "lead")
    role(tablet, IMRE, "builder")
    assert tablet.me["leads"] is False
    bo = signed_in(shop, BO)
    for person in (IMRE, ODILE, TEO):
        bo.ask("POST", f"/people/{person}/pin/away", {})
    # The last one closes the door only where the network has none to go through.
    shop.app.config["HERE_ONLY"] = False
    assert "open to the network" in bo.ask("POST", f"/people/{BO}/pin/away", {}, 422)["detail"]
    shop.app.config["HERE_ONLY"] = True
    bo.ask("POST", f"/people/{BO}/pin/away", {})
    assert Tablet(shop).get("/today")
    shop.app.config["HERE_ONLY"] = False
    try:
        assert Tablet(shop).ask("GET", "/today", status=401)
        assert Tablet(shop).gives(TEO, 401)
    finally:
        shop.app.config["HERE_ONLY"] = True


def test_what_lets_people_in_leaves_the_shop_only_with_a_backup(shop, tablet, tmp_path):
    packed = ZipFile(io.BytesIO(tablet.client.get("/api/v1/archive.zip").data))
    tables = {name: json.loads(packed.read(f"tables/{name}.json")) for name in ("secret", "sign_in", "written")}
    assert (tables["secret"], tables["sign_in"]) == ([], [])
    assert not any(b"argon2" in packed.read(name) for name in packed.namelist())
    (tmp_path / "a.zip").write_bytes(tablet.client.get("/api/v1/archive.zip").data)
    assert cli.main(["unpack", str(tmp_path / "a.zip"), str(tmp_path / "other")]) == 0
    other = Shop(tmp_path / "other")
    assert other.get("/sign-in")["needed"] is False
    other.close()
    with closing(sqlite3.connect(shop.folder / file.NAME)) as database:
        (hashed,) = database.execute("SELECT hashed FROM secret LIMIT 1").fetchone()
    assert re.match(r"\$argon2id\$v=19\$m=32768,t=3,p=2\$", hashed)


def test_a_pin_is_given_at_the_keyboard_of_the_shops_computer(shop, tablet, monkeypatch, capsys):
    def typed(name, secret):
        monkeypatch.setattr("sys.stdin", io.StringIO(secret + "\n"))
        code = cli.main(["pin", str(shop.folder), name])
        said = capsys.readouterr()
        return code, said.out + said.err

    assert typed("imre", "4711")[1].startswith("Imre is a lead")
    assert tablet.me is None
    assert tablet.come_in(IMRE, "4711")["me"]["leads"]
    code, said = typed("Imri", "4711")
    assert (code, said.startswith("“Imri” does not work here; the crew is Bo, Imre")) == (1, True)
    assert typed("Imre", "123")[0] == 1
    # Not open to the network before somebody has one.
    assert cli.main(["serve", "--data", str(shop.folder.with_name("new")), "--listen", "0.0.0.0", "--host", "x.test",
                     "--port", "0"]) == 1  # fmt: skip
    assert "Nobody has a PIN yet" in capsys.readouterr().err
