"""Second look: what a careful colleague would point out."""
