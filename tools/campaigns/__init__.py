"""Campaigns: the same harm many times over, at random with a seed, and figures of what came of it."""
