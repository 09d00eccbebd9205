"""Parts that are read from the picture: its light, its colours, and colours taken from it."""
