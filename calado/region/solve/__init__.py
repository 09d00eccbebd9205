"""Mattes that are solved from the picture: a cut between what was marked, and alpha in the band of its edge."""
