"""Labelled fields: what is asked, in which unit, between which limits."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

#: What is kept or sent under names: a data sheet, a section, what a recipe is given.
Says = Mapping[str, Any]
