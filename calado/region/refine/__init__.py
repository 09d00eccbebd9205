"""What is done to a finished matte: one step a file, in the order of the registry."""
