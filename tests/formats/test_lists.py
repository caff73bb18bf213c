"""Lists as kits and suppliers write them: whatever parts their cells, they say the same; what is no list is refused."""

import csv
import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import examples

from kiteloom.core.base.problems import Refused
from kiteloom.formats.labels import Label, labels_pdf
from kiteloom.formats.lists import read_list
from kiteloom.formats.order_sheet import SheetLine, order_csv, order_mail, order_pdf
from kiteloom.standins.supplier import Asked, answer

WORDS = st.text(
    st.characters(min_codepoint=32, max_codepoint=0x2FF, exclude_characters='";,\t'), min_size=1, max_size=12
)
NAMES = WORDS.map(lambda word: f"n{word.strip()}")


@settings(max_examples=examples(60), deadline=None)
@given(st.lists(st.tuples(NAMES, st.integers(1, 900)), min_size=1, max_size=8), st.sampled_from([";", ",", "\t"]))
def test_a_list_says_the_same_whatever_parts_its_cells(rows, mark):
    out = io.StringIO()
    writer = csv.writer(out, delimiter=mark, lineterminator="\r\n")
    writer.writerow(["List of the kit", ""])
    writer.writerow(["Description", "Qty"])
    writer.writerows(rows)
    found = read_list("\ufeff" + out.getvalue(), spreadsheet=False)
    assert found.columns == {"name": "Description", "count": "Qty"}
    assert [(row.cells["name"], row.cells["count"]) for row in found.rows] == [(name, str(n)) for name, n in rows]
    assert [row.line for row in found.rows] == list(range(3, 3 + len(rows)))


@pytest.mark.parametrize(
    ("head", "columns"),
    [
        ("Part number;Item;Quantity;Hand", {"number", "name", "count", "hand"}),
        ("Benennung;Anzahl;Gewinde;Länge", {"name", "count", "thread", "length_mm"}),
        ("Pos;Designation;Pcs;Variant", {"name", "count", "size"}),
        ("P/N;Description;Qty;Side", {"number", "name", "count", "hand"}),
    ],
)
def test_columns_are_found_by_what_lists_call_them(head, columns):
    assert set(read_list(f"{head}\na;b;c;d\n", spreadsheet=False).columns) == columns


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no line has a column"),
        ("Qty;Qty\n1;2\n", "no line has a column"),
        ("name;qty\n" + "x;1\n" * 5001, "the list has 5002 lines; at most 5000"),
    ],
)
def test_what_is_no_list_is_refused_with_what_is_missing(text, says):
    with pytest.raises(Refused, match=says):
        read_list(text, spreadsheet=False)


def test_a_cell_that_a_spreadsheet_took_for_a_formula_is_read_as_the_text_it_was():
    lines = [SheetLine(1, "=2+3 kg", "-Tarn", "@7", "20.00 EUR", "soon")]
    text = order_csv(lines)
    assert "'=2+3 kg" in text  # nothing is reckoned where the order is opened
    row = next(csv.DictReader(io.StringIO(text)))
    assert (row["what"], row["number"]) == ("'-Tarn", "'@7")


def test_an_order_says_the_same_on_paper_in_a_table_and_in_a_mail():
    lines = [SheetLine(3, "1.28 kg kit", "Tarn & co <slow>", "T-1", "93.00 EUR", "Thu 21 May")]
    mail = order_mail("Mill", "Boathouse", lines, "99.00 EUR")
    assert "- 3 × 1.28 kg kit Tarn & co <slow> (no. T-1): 93.00 EUR" in mail
    assert "Together 99.00 EUR, parcel included." in mail
    paper = order_pdf("Mill", "Boathouse", "Thu 14 May", lines, [("Together", "99.00 EUR")])
    assert paper.startswith(b"%PDF")
    assert paper == order_pdf("Mill", "Boathouse", "Thu 14 May", lines, [("Together", "99.00 EUR")])  # the same file
    letter = order_pdf("Mill", "Boathouse", "Thu 14 May", lines, [("Together", "99.00 EUR")], letter=True)
    assert len(letter) != len(paper) or letter != paper


@settings(max_examples=examples(20), deadline=None)
@given(st.lists(st.tuples(st.integers(1, 40), st.integers(0, 30)), max_size=6), st.dates(), st.integers(0, 99))
def test_a_simulated_shop_answers_every_line_on_a_working_day_and_never_before_its_lead(rows, today, seed):
    if today.year > 9000:
        return
    asked = [Asked(f"l{n}", f"thing {n}", packs, days) for n, (packs, days) in enumerate(rows)]
    said = list(csv.DictReader(io.StringIO(answer(asked, today, seed))))
    assert [row["order"] for row in said] == [one.id for one in asked]
    for row, one in zip(said, asked, strict=True):
        day = today.fromisoformat(row["comes on"])
        assert day.weekday() < 5
        assert one.lead_days <= (day - today).days <= one.lead_days + 6 + 2
    assert answer(asked, today, seed) == answer(asked, today, seed)


def test_more_labels_than_a_page_has_go_on_the_next():
    labels = [Label(f"Part {n}", ("LEFT",), f"http://boathouse.local/part/{n}", "this end aft") for n in range(15)]
    assert labels_pdf(labels).count(b"/Type /Page\n") == 2 or b"/Count 2" in labels_pdf(labels)
