"""Chores of the house."""
