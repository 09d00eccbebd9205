"""Projects, shots and the sheets they had."""
