"""Exports read back: the file itself is decoded and compared with what should stand in it."""
