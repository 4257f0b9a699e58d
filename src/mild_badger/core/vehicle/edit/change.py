"""An edit as a value: which fields of the document get which new values, and what to call it.

Findings carry edits that mend them, screens send them, undo names them: one mechanism for all.
"""

from dataclasses import dataclass
from typing import Any

__all__ = ["Change", "Edit", "Path"]

Path = tuple[str | int, ...]


@dataclass(frozen=True)
class Change:
    """One field's new value.

    Parameters
    ----------
    path
        Names and indices from the document's root, as ``("motor", "no_load_rpm")``.
    value
        The new value as plain data, or a model of the document.
    """

    path: Path
    value: Any


@dataclass(frozen=True)
class Edit:
    """A named step of the builder's work, undone as one.

    Parameters
    ----------
    own_ids
        Whether its trains come with the ids by which its other changes name their pairs; otherwise
        pairs keep the ids that they have in the document.
    """

    label: str
    changes: tuple[Change, ...]
    own_ids: bool = False

    @classmethod
    def one(cls, label: str, path: Path, value: Any) -> "Edit":
        """Make an edit of a single field."""
        return cls(label, (Change(path, value),))
