"""What goes in and out of the API."""
