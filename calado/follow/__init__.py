"""What moves from frame to frame: pure functions from frames to what they tell."""
