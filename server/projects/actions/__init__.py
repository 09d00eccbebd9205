"""Use cases, one a file; views, commands and tests call the same."""
