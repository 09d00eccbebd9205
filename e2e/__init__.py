"""The real application, driven as a person drives it."""
