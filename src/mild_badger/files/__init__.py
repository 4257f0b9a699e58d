"""Files on disk: the one reader and the one writer, and what the program keeps with them."""
