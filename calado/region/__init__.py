"""Regions: parts, joined in order, give a matte."""
