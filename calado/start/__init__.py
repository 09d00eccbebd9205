"""Starters: ready passes that carry the know-how for one purpose; ordinary passes afterwards."""
