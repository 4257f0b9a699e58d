"""Everything that can be *malformed*. What merely *cannot be done* is a result, not an error."""

__all__ = [
    "BadgerError",
    "DocumentError",
    "FileAccessError",
    "GraphError",
    "InputError",
    "KitError",
]


class BadgerError(Exception):
    """Root of the program's own errors; its text is a sentence fit for the user."""


class InputError(BadgerError, ValueError):
    """A value typed or passed in that cannot be used."""


class DocumentError(BadgerError, ValueError):
    """A vehicle file or an edit whose content cannot be used."""


class KitError(BadgerError, ValueError):
    """A kit file whose content cannot be used."""


class FileAccessError(BadgerError, OSError):
    """A file that cannot be read or written."""


class GraphError(BadgerError, ValueError):
    """A drivetrain graph with a loose end: a body that is named but not there."""
