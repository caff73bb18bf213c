"""Steps, amounts, instructions and times are those that were kept, to the line."""

import pytest
from tests.golden import DATA, golden

pytestmark = pytest.mark.xdist_group("golden")


@pytest.fixture(scope="module")
def lines():
    return golden()


@pytest.mark.parametrize("name", ["golden-demo.txt", "golden-airframes.txt", "golden-folder.txt"])
def test_what_is_built_and_when_is_as_it_was(lines, name):
    assert lines[name] == (DATA / name).read_text().splitlines()
