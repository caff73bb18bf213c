"""The tests, and the examples in docstrings."""

pytest_plugins = ("tests.examples",)
