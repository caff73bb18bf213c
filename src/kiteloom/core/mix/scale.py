"""What a bench scale's reading means beside its noise and drift (common practice for kitchen and bench scales)."""

#: Less than this below nothing is noise and drift, not a lifted cup; less than this above it no pouring [g].
NOISE_G = 1.0

#: A scale that shows no more than this stands at zero [g].
ZERO_G = 0.5
