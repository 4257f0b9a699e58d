"""A plan book without its lines: reading back what it says takes most of a test's time else."""

from collections.abc import Iterator
from contextlib import contextmanager

import pytest

from mild_badger.core.publish import figures

__all__ = ["words_only"]


@contextmanager
def words_only() -> Iterator[None]:
    """Leave the lines of figures out of what is published meanwhile; their words stay."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(figures, "_mark", lambda *_args: None)
        yield
