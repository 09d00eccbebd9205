"""What is told of an export to whoever must answer for it."""
