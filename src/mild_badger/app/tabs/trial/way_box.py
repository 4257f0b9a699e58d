"""The choice of which way something was seen to turn."""

from PyQt6.QtWidgets import QComboBox

from mild_badger.app.shown import shown
from mild_badger.core.message import say

__all__ = ["way_box"]

WAYS = (
    (say("tab-trial.nobody-looked"), 0),
    (say("tab-trial.as-the-input-forwards"), 1),
    (say("tab-trial.against-it-backwards"), -1),
)


def way_box(name: str) -> QComboBox:
    """Make the choice; its data is +1, −1, or 0 where nobody looked."""
    box = QComboBox()
    box.setAccessibleName(shown(name))
    for words, value in WAYS:
        box.addItem(shown(words), value)
    return box
