"""Data sheets as JSON and CSV, whoever wrote them; and the labels for lids."""

from __future__ import annotations

import csv
import io
import json

import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kiteloom.core.base.problems import Refused
from kiteloom.core.stores.fields import KINDS
from kiteloom.core.stores.form import cleaned, same
from kiteloom.demo.products import SHEETS
from kiteloom.formats.lid_labels import Lid, lid_labels
from kiteloom.formats.sheet_files import FileSheet, read_sheets, write_csv, write_json

ALL = [FileSheet(kind, name, cleaned(kind, name, says)[0]) for kind, name, says in SHEETS]


@pytest.mark.parametrize("write", [write_json, write_csv])
def test_what_is_written_is_read_back_the_same(write):
    found = read_sheets(write(ALL))
    assert [(sheet.kind, sheet.name, sheet.problems) for sheet in found] == [(s.kind, s.name, ()) for s in ALL]
    assert all(same(one.says, other.says) for one, other in zip(found, ALL, strict=True))


def test_a_table_program_may_use_semicolons_another_order_of_columns_and_a_byte_mark():
    rows = list(csv.reader(io.StringIO(write_csv(ALL))))
    order = list(range(len(rows[0])))[::-1]
    out = io.StringIO()
    csv.writer(out, delimiter=";").writerows([[row[i] for i in order] for row in rows])
    found = read_sheets("\ufeff" + out.getvalue())
    assert all(same(one.says, other.says) for one, other in zip(found, ALL, strict=True))


def test_a_table_typed_by_hand_takes_units_and_several_temperatures():
    text = (
        "kind,name,ratio,pot_life.minutes,pot_life.mass_g,pot_life.temp_c,keep.sealed_days,temperatures,stages\n"
        'wood glue,Fen glue,100:60,0.75 h,2 oz,70 °F,2 years,68 °F | 50 °F,"handle: 8 h | 17 h; sand: 14 | "\n'
        ",,,,,,,,\n"
    )
    (sheet,) = read_sheets(text)
    assert sheet.problems == ()
    assert sheet.says["pot_life"] == pytest.approx({"minutes": 45, "mass_g": 56.699, "temp_c": 21.111}, rel=1e-4)
    assert sheet.says["keep"]["sealed_days"] == pytest.approx(730.5)
    stages = sheet.says["cure"]["stages"]
    assert sheet.says["cure"]["reference_c"] == pytest.approx(20)
    assert stages[0]["also"] == [{"c": pytest.approx(10), "hours": 17}]
    assert "also" not in stages[1]


def test_a_bad_row_is_named_and_the_good_ones_beside_it_are_read():
    text = "kind,name,areal_weight_g_m2\ncloth,Good,163 g/m²\ncloth,Bad,heavy\nyarn,Odd,1\ncloth,,200\n"
    good, bad, odd, nameless = read_sheets(text)
    assert (good.problems, good.says) == ((), {"areal_weight_g_m2": 163.0})
    assert "“heavy” isn't understood" in bad.problems[0]
    assert odd.problems == ("“yarn” is not a kind of data sheet",)
    assert nameless.problems[0].startswith("the sheet has no name")


@pytest.mark.parametrize(
    ("text", "named"),
    [
        (" \n", "the file is empty"),
        ('{"sheets": [', "isn't JSON that can be read"),
        ('{"sheets": {}}', "has no list of “sheets”"),
        ("a,b\n1,2\n", "needs columns “kind” and “name”"),
        ("[]", "no data sheets in it"),
        (json.dumps([{"kind": "cloth", "name": str(i), "says": {}} for i in range(2001)]), "2001 sheets; at most 2000"),
    ],
)
def test_a_file_that_can_not_be_read_says_why(text, named):
    with pytest.raises(Refused, match=named):
        read_sheets(text)


ANY = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=6,
)


@settings(max_examples=80)
@given(
    st.lists(st.fixed_dictionaries({"kind": st.sampled_from([*KINDS, "yarn"]), "name": ANY, "says": ANY}), min_size=1)
)
def test_whatever_stands_in_a_json_file_each_sheet_is_read_or_named(rows):
    found = read_sheets(json.dumps(rows))
    assert len(found) == len(rows)
    for sheet in found:
        assert sheet.problems or cleaned(sheet.kind, sheet.name, sheet.says)[1] == []


def lid(name="Tarn 210", **more):
    lids = {"resin": "Tarn 210 A", "hardener": "Tarn 214 B slow", "ratio": "100 : 28 by weight"}
    return Lid(
        name, **{**lids, "care": "Hardener sensitises skin", "address": "http://127.0.0.1:8127/mix?product=x", **more}
    )


def test_five_products_fill_two_pages_both_lids_of_each_with_its_partner():
    data = lid_labels([lid(f"Product {i}") for i in range(5)])
    pages = [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(data)).pages]
    assert len(pages) == 2
    assert pages[0].count("only with Tarn 210 A") == pages[0].count("only with Tarn 214 B slow") == 4
    assert "Product 4" in pages[1]
    assert lid_labels([lid()]) == lid_labels([lid()])


def test_a_name_too_long_for_a_label_is_made_smaller_and_then_cut():
    long = "Very long product name " * 12
    text = pypdf.PdfReader(io.BytesIO(lid_labels([lid(long, resin=long)]))).pages[0].extract_text()
    assert "…" in text
    assert "100 : 28 by weight" in text


@pytest.mark.parametrize("name", ["=cmd|' /C calc'!A0", "+44", "@SUM(1+1)", "-1", "'quoted"])
def test_a_name_that_begins_like_a_formula_stays_a_text_and_comes_back(name):
    text = write_csv([FileSheet("solvent", name, {"price": "+1", "density_kg_m3": 790.0})])
    cells = [cell for row in csv.reader(io.StringIO(text)) for cell in row]
    assert not any(cell.startswith(("=", "+", "-", "@")) for cell in cells)
    (back,) = read_sheets(text)
    assert (back.name, back.says["price"], back.problems) == (name, "+1", ())


@pytest.mark.parametrize(
    "text",
    [
        write_csv(ALL[:3]).replace("\r\n", "\r"),
        'kind,name\nsolvent,"open',
        "kind,name\nsolvent," + "x" * 140_000,
        "[" * 50_000,
        json.dumps({"sheets": [{"kind": "solvent", "name": "a\ud800", "says": {}}]}),
    ],
    ids=["carriage returns", "an open quote", "an endless cell", "endless lists", "half a letter"],
)
def test_a_table_that_was_torn_is_read_or_refused_in_a_sentence(text):
    refused, found = "", []
    try:
        found = read_sheets(text)
    except Refused as no:
        refused = no.sentence
    assert len(refused) < 300
    assert refused or found
    assert all(sheet.name.isprintable() for sheet in found)


def test_one_can_of_resin_names_every_hardener_it_is_mixed_with():
    data = lid_labels([lid(also=(("100 : 34 by weight", "Tarn 212 B fast"),))])
    text = pypdf.PdfReader(io.BytesIO(data)).pages[0].extract_text()
    assert "100 : 28 by weight\nwith Tarn 214 B slow\n100 : 34 by weight\nwith Tarn 212 B fast" in text
    assert text.count("only with") == 1  # the hardener's own lid
