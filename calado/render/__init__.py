"""The engine: from a source, a sheet and a window to the picture."""
