"""The demo: pictures, clips, what is true of them, and how they are made."""
