"""From an empty folder to a plan on the Loom: a wood-and-fabric single-seater founded from the screens alone."""

from __future__ import annotations

import io
import re

import ezdxf
import pytest
from playwright.sync_api import Page, expect

from kiteloom.demo.products import SHEETS
from kiteloom.formats.sheet_files import FileSheet, write_json
from tests.browser.running import RunningShop

#: The builder may not need more than so many actions.
MOST = 150


class Builder:
    """Somebody at the screens: every field typed in and every press is counted."""

    def __init__(self, page: Page) -> None:
        self.page, self.typed, self.pressed = page, 0, 0

    def type(self, label: str, text: str) -> None:
        self.page.get_by_label(label, exact=True).fill(text)
        self.typed += 1

    def press(self, name: str, role: str = "button", exact: bool = True) -> None:
        self.page.get_by_role(role, name=name, exact=exact).first.click()
        self.pressed += 1

    def choose(self, label: str, name: str, text: str, kind: str) -> None:
        file = {"name": name, "mimeType": kind, "buffer": text.encode()}
        self.page.get_by_label(label, exact=True).set_input_files(file)
        self.pressed += 1

    def station(self, n: int, at: str, chord: str, section: str = "") -> None:
        self.type(f"Station {n}, along the span", at)
        self.type(f"Station {n}, chord", chord)
        if section:
            self.type(f"Station {n}, section", section)

    def placed(self, aft: str, out: str = "") -> None:
        self.type("Aft of the nose", aft)
        if out:
            self.type("Out from the middle", out)

    def first_job(self, way: str, role: str = "", product: str = "") -> None:
        """The part is founded; its first job is asked for at once. Where one product fits it is chosen already."""
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_role("button", name=re.compile(f"^{way}", re.IGNORECASE)).click()
        expect(sheet.get_by_role("region", name="Comes to")).to_be_visible()
        if role:
            self.press(role, "combobox")
            self.press(product, "option")
        expect(sheet.get_by_role("region", name="Comes to")).not_to_contain_text("choose a")
        sheet.get_by_role("button", name="Add this job").click()
        self.pressed += 2
        expect(self.page.get_by_role("navigation", name="Jobs")).to_contain_text(way.lower())


def fin_in_plywood() -> str:
    """A fin with two lightening holes, in inches, its sides drawn as single lines and an arc."""
    drawing = ezdxf.new(units=1)
    space = drawing.modelspace()
    space.add_line((0, 0), (40, 0))
    space.add_line((0, 22), (34, 17))
    space.add_line((0, 22), (0, 0))
    space.add_lwpolyline([(40, 0, 0.3), (34, 17, 0)], format="xyb")
    space.add_circle((10, 10), 3)
    space.add_circle((22, 9), 2.5)
    space.add_text("FIN, 1/4 in ply")
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue()


@pytest.fixture
def empty(tmp_path):
    running = RunningShop(tmp_path / "empty", command="serve")
    running.start()
    yield running
    running.stop()
    print(running.said())  # shown with a failure


def test_an_aircraft_of_ones_own_from_an_empty_folder_to_its_plan(empty, page):
    me = Builder(page)
    page.goto(empty.url)
    me.type("The shop’s name", "The shed")
    me.press("Metric", "radio")
    me.press("Open the shop")
    me.type("Name 1", "Ada")
    me.press("Somebody else too")
    me.type("Name 2", "Jonas")
    me.press("Welcome them")
    me.press("Tick all of them")
    me.press("These are here")
    me.type("Tonight’s low", "15")
    me.type("Tomorrow’s high", "22")
    me.press("Plan with these")
    me.type("The airframe’s name", "Warbler")
    me.press("Found it")

    # What the products' makers say comes along in a file; half a part typed meanwhile is still there after.
    me.type("Its name", "Wing ribs")
    page.goto(f"{empty.url}/stores")
    sheets = write_json([FileSheet(kind, name, says) for kind, name, says in SHEETS])
    me.press("Take in a file")
    me.choose("A file of data sheets, JSON or CSV", "sheets.json", sheets, "application/json")
    me.press("Take what is new")
    expect(page.get_by_text(re.compile("sheets taken"))).to_be_visible()
    page.goto(f"{empty.url}/airframe")
    me.press("Found a part…", "link")
    expect(page.get_by_label("Its name", exact=True)).to_have_value("Wing ribs")

    # A three-piece wing of like ribs.
    me.type("It belongs to", "Wing")
    me.press("Like pieces", "radio")
    for label, text in (("what", "rib"), ("how many", "33"), ("length", "1180"), ("width", "95"), ("thickness", "8")):
        me.type(f"Piece 1, {label}", text)
    me.press("Found it")
    me.first_job("Two coats of varnish")
    for name, hand, span, found, out in (
        ("Centre panel", "Centre", "1.6", "Found it", ""),
        ("Wing panel", "Both", "3.4", "Found both", "0.8"),
    ):
        page.goto(f"{empty.url}/airframe")
        me.press("Found a part…", "link")
        me.type("Its name", name)
        me.press(hand, "radio")
        me.press("By stations", "radio")
        me.station(1, "0", "1.2", "4412")
        me.station(2, span, "1.2")
        me.type("Ribs stand", "every 260 mm")
        me.placed("1.3", out)
        me.press(found)
        me.first_job("Glued wood frame", "Wood glue", "Heron glue")

    # A plywood fin from a drawing in inches.
    page.goto(f"{empty.url}/airframe")
    me.press("Found a part…", "link")
    me.type("Its name", "Fin")
    me.type("or to a new assembly", "Tail")
    me.press("Flat outline", "radio")
    me.choose("Outline file", "fin.dxf", fin_in_plywood(), "image/vnd.dxf")
    expect(page.get_by_text("It was drawn in in.")).to_be_visible()
    expect(page.get_by_text("Left out, as they are no outline: 1 TEXT.")).to_be_visible()
    me.press("Found it")
    me.first_job("Two coats of varnish")

    # A cowl that exists and has no drawing.
    page.goto(f"{empty.url}/airframe")
    me.press("Found a part…", "link")
    me.type("Its name", "Cowl")
    me.type("or to a new assembly", "Fuselage")
    me.press("Upper side", "radio")
    me.press("Measured strips", "radio")
    me.press("Another measure")
    for n, (at, across) in enumerate((("0", "0.6"), ("0.3", "1.0"), ("0.8", "1.25")), 1):
        me.type(f"Measure {n}, along, as the tape lies", at)
        me.type(f"Measure {n}, measured", across)
    me.press("Found it")
    me.first_job("Bagged sandwich skin", "Laminating resin", "Tarn 210 with 214 slow")
    me.press("Plies", "tab")
    me.press("Add a ply outside")
    expect(page.get_by_label("Angle of ply 1", exact=True)).to_be_visible()
    me.press("Core", "combobox")
    me.press("Bulrush 60, 6 mm foam", "option")
    me.press("Add a ply inside")
    expect(page.get_by_label("Angle of ply 2", exact=True)).to_be_visible()

    # Foam ailerons, left and right.
    page.goto(f"{empty.url}/airframe")
    me.press("Found a part…", "link")
    me.type("Its name", "aileron")
    me.press("Both", "radio")
    me.press("Wing", "radio")
    me.press("By stations", "radio")
    me.station(1, "0", "0.28", "0010")
    me.station(2, "1.9", "0.28")
    me.placed("2.2", "2.2")
    me.press("Found both")
    me.first_job("Foam core skinned on two sides", "Laminating resin", "Tarn 210 with 214 slow")
    me.press("Plies", "tab")
    me.press("Add a ply outside")
    expect(page.get_by_label("Angle of ply 1", exact=True)).to_be_visible()

    # It is drawn, and it has a plan.
    page.goto(f"{empty.url}/airframe")
    expect(page.get_by_role("heading", name="Warbler")).to_be_visible()
    expect(page.get_by_role("img", name="The airframe from above, nose up").locator("path")).to_have_count(5)
    page.goto(f"{empty.url}/loom")
    for part in ("Wing ribs", "Centre panel", "Left wing panel", "Fin", "Cowl", "Right aileron"):
        expect(page.get_by_text(part, exact=True).first).to_be_visible()
    sentences = [s["sentence"] for a in empty.get("/api/v1/airframe")["assemblies"] for s in a["parts"]]
    assert [words for words in sentences if not words.startswith("Next, ")] == []
    page.goto(f"{empty.url}/today")
    expect(page.get_by_test_id("first")).to_contain_text(re.compile("Closed until|Next|:"))
    print(f"{me.typed} fields typed, {me.pressed} presses")
    assert me.typed + me.pressed < MOST
