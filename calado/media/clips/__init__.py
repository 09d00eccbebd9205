"""Clips: what they are, frame n exactly, planes to linear light and back, sound, files written."""
