"""Readings: meters, scopes, second look."""
