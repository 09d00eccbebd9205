"""Adjustments of detail."""
