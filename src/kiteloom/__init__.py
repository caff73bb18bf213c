"""Kite Loom plans and computes the building of composite, wood and fabric airframes."""

from kiteloom import compiled

compiled.use()
