"""Changing a sheet: passes, regions and parts begun, mirrored, copied, sampled, read from outlines."""
