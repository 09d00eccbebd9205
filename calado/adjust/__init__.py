"""Adjustments: one declaration and one kernel each."""
