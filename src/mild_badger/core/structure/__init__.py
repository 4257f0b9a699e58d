"""How a box stands in space: its stack, frame, forks and what shifts it, as lengths and places."""
