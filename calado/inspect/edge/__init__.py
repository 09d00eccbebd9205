"""The edge of a region: how soft it is, a profile across it, and the ribbon along it."""
