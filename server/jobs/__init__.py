"""Exports and their worker."""
