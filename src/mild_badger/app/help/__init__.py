"""The handbook shown inside the program, and the search for anything by its words."""
