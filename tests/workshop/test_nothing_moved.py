"""Steps, amounts, instructions and times are those that were kept, to the line."""

from tests.golden import DATA, golden


def test_what_is_built_and_when_is_as_it_was():
    for name, lines in golden().items():
        assert lines == (DATA / name).read_text().splitlines(), name
