"""What the bench needs at hand: the engine and its sources."""
