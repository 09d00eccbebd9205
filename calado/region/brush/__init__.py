"""Strokes of a brush as vectors, and their mattes at any size."""
