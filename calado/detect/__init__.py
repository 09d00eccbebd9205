"""Subjects and faces found by two small models that run here; offered, never applied by themselves."""
