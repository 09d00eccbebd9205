"""Files of pictures: told apart by content, read with profile and orientation, written clean."""
