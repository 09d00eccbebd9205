"""Adjustments of texture."""
