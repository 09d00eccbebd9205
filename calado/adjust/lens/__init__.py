"""Adjustments of the lens."""
