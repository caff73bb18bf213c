"""The calculation contract: stateless, family by family."""
