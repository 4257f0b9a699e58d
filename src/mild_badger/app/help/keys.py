"""The keys of the window, as they are told."""

__all__ = ["KEYS_HELP"]

KEYS_HELP = (
    "1 to 9 engage a gear, 0 neutral, R reverse; + and − shift up and down.\n"
    "Ctrl+1 to Ctrl+9 change the tab.\n"
    "F1 opens the handbook at the page in view, F3 searches everything.\n"
    "Ctrl+F finds the set, Ctrl+Z takes a step back, Ctrl+Shift+Z does it again.\n"
    "Where something is typed, keys type; Escape goes back, and out of the field or table.\n"
    "In a table a letter types over, F2 changes, Enter and Tab move on, Delete empties,\n"
    "Ctrl+C and Ctrl+V take and put blocks."
)
