"""The sheet: what is done to a shot, as a value that can be read, checked, changed and told in words."""
