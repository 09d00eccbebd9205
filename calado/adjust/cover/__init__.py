"""Adjustments of one group of treatments: one file each."""
